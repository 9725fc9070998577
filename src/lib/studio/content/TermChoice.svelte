<script lang="ts">
  import type { Model, Taxonomy } from '$lib/core/model/model';

  let {
    model,
    taxonomy,
    chosen,
    onchange,
  }: { model: Model; taxonomy: Taxonomy; chosen: string[]; onchange: (ids: string[]) => void } = $props();

  let search = $state('');
  const rows = (parent: string | null = null, depth = 0): { id: string; name: string; depth: number }[] =>
    model.terms
      .filter((t) => t.taxonomyId === taxonomy.id && t.parentId === parent)
      .flatMap((t) => [{ id: t.id, name: t.name, depth }, ...rows(t.id, depth + 1)]);
  const all = $derived(rows());
  const shown = $derived(search ? all.filter((t) => t.name.toLowerCase().includes(search.toLowerCase())) : all);
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
