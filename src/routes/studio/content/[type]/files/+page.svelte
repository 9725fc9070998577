<script lang="ts">
  import { roleOfField } from '$lib/core/model/field';
  import TypeTabs from '$lib/studio/content/TypeTabs.svelte';
  import ImportSteps from '$lib/studio/exchange/ImportSteps.svelte';

  let { data } = $props();

  const formats = $derived([
    {
      format: 'csv',
      label: 'Table (CSV)',
      about: 'For spreadsheets. Several values stand in one cell, parted by |; rows as JSON.',
    },
    { format: 'json', label: 'JSON', about: 'Every value as it is, fields by their keys, relations by address.' },
    {
      format: 'markdown',
      label: 'Text files (Markdown)',
      about: 'One file for each record, with YAML on top and its text below, in a zip.',
    },
    ...(data.type.fields.some((field) => roleOfField(field) === 'map')
      ? [{ format: 'geojson', label: 'Map data (GeoJSON)', about: 'Each record a feature at its place.' }]
      : []),
    {
      format: 'schema',
      label: 'JSON Schema',
      about: 'What records of this type look like in JSON; for other programs.',
    },
  ]);
</script>

<svelte:head><title>{data.type.plural}, in and out · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto">
  <div class="mx-auto max-w-6xl px-8 py-5">
    <TypeTabs type={data.type} counts={data.counts} here="files" />
    <div class="mt-5 grid grid-cols-[minmax(0,1fr)_19rem] gap-8">
      <section aria-label="Bring in">
        <h2 class="text-xl font-medium">Bring in</h2>
        {#key data.type.id}<ImportSteps type={data.type} columns={data.columns} />{/key}
      </section>
      <section aria-label="Take out">
        <h2 class="text-xl font-medium">Take out</h2>
        <p class="mt-1 text-faded">
          All {data.counts.total.toLocaleString('en')}
          {data.type.plural.toLowerCase()}, drafts too.
        </p>
        <ul class="mt-3 flex flex-col gap-2">
          {#each formats as one (one.format)}
            <li class="border border-hairline bg-paper px-3 py-2">
              <a
                class="font-medium text-plum underline underline-offset-2"
                href="/api/v1/types/{data.type.id}/export?format={one.format}"
                download>{one.label}</a
              >
              <p class="text-xs text-faded">{one.about}</p>
            </li>
          {/each}
        </ul>
      </section>
    </div>
  </div>
</main>
