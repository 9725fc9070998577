<script lang="ts">
  import { hasWords } from '$lib/core/base/words';
  import { termRows } from '$lib/core/model/model';
  import type { Model, Taxonomy } from '$lib/core/schema/model';

  let {
    model,
    taxonomy,
    chosen,
    onchange,
  }: { model: Model; taxonomy: Taxonomy; chosen: string[]; onchange: (ids: string[]) => void } = $props();

  let search = $state('');
  const all = $derived(
    termRows(model.terms.filter((t) => t.taxonomyId === taxonomy.id)).map(({ term, depth }) => ({ ...term, depth })),
  );
  const shown = $derived(search ? all.filter(({ name }) => hasWords(name, search)) : all);
</script>

<fieldset>
  <legend class="dye-label mb-0.5 flex w-full items-baseline"
    >{taxonomy.name}<a class="ml-auto font-normal underline" href="/studio/terms/{taxonomy.id}">Terms</a></legend
  >
  <div class="max-h-44 overflow-y-auto border border-hairline bg-paper p-2">
    {#if all.length > 12}<input
        type="search"
        class="mb-1 w-full"
        placeholder="Find a term"
        aria-label="Find in {taxonomy.name}"
        bind:value={search}
      />{/if}
    {#each shown as term (term.id)}
      <label class="flex items-center gap-2 py-0.5" style="padding-left:{search ? 0 : term.depth * 16}px"
        ><input
          type="checkbox"
          checked={chosen.includes(term.id)}
          onchange={(e) =>
            onchange(e.currentTarget.checked ? [...chosen, term.id] : chosen.filter((id) => id !== term.id))}
        />{term.name}</label
      >
    {:else}<p class="text-faded">{search ? 'No term is called so.' : 'No terms yet.'}</p>{/each}
  </div>
</fieldset>
