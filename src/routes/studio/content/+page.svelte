<script lang="ts">
  import { kindNamed } from '$lib/core/model/kinds';

  let { data } = $props();
</script>

<svelte:head><title>Content · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto">
  <div class="mx-auto max-w-6xl px-8 py-7">
    <div class="flex items-end">
      <h1 class="text-3xl font-medium">Content</h1>
      <a
        href="/studio/content/new"
        class="ml-auto inline-flex h-7 items-center rounded-sm bg-plum px-2.5 font-medium text-paper hover:bg-plum-deep"
        >New content type</a
      >
    </div>
    <div class="mt-6 grid grid-cols-3 gap-5">
      {#each data.model.types as type (type.id)}
        {@const count = data.counts[type.id]}
        <section class="border border-hairline bg-paper">
          <div class="flex items-baseline gap-2 border-b border-hairline px-4 py-3">
            <h2 class="text-xl font-medium">
              <a class="underline-offset-4 hover:underline" href="/studio/content/{type.id}">{type.plural}</a>
            </h2>
            <span class="text-faded">{(count?.published ?? 0) + (count?.drafts ?? 0)}</span>
            <a class="ml-auto text-plum underline underline-offset-2" href="/studio/content/{type.id}/fields">Fields</a>
          </div>
          <ul class="px-4 py-2">
            {#each type.fields as field (field.id)}
              <li class="flex items-baseline gap-2 py-px">
                <span class="w-4 text-center font-mono text-xs text-faded" aria-hidden="true"
                  >{kindNamed(field.kind)?.glyph}</span
                >{field.label}<span class="ml-auto text-xs text-faded">{kindNamed(field.kind)?.label}</span>
              </li>
            {/each}
          </ul>
        </section>
      {:else}
        <p class="col-span-3 text-faded">
          There is no content type yet. Make one, with the fields that its records shall have.
        </p>
      {/each}
    </div>
    {#each data.model.taxonomies as taxonomy (taxonomy.id)}
      <section class="mt-6">
        <h2 class="text-xl font-medium">{taxonomy.name}</h2>
        <div class="mt-2 grid grid-cols-3 gap-5">
          {#each data.model.terms.filter((t) => t.taxonomyId === taxonomy.id && !t.parentId) as term (term.id)}
            <div>
              <p class="font-medium">{term.name}</p>
              <p class="text-faded">
                {data.model.terms
                  .filter((t) => t.parentId === term.id)
                  .map((t) => t.name)
                  .join(', ')}
              </p>
            </div>
          {/each}
        </div>
      </section>
    {/each}
  </div>
</main>
