<script lang="ts">
  import { may } from '../people/me';
  import type { ContentType } from '$lib/core/schema/model';

  let {
    type,
    counts,
    here,
  }: {
    type: ContentType;
    counts: { published: number; drafts: number; generated: number };
    here: 'records' | 'fields' | 'files';
  } = $props();

  const places = $derived([
    { name: 'records', label: 'Records', at: `/studio/content/${type.id}` },
    ...(may('saveType') ? [{ name: 'fields', label: 'Fields', at: `/studio/content/${type.id}/fields` }] : []),
    ...(may('startImport') ? [{ name: 'files', label: 'In and out', at: `/studio/content/${type.id}/files` }] : []),
  ]);
</script>

<div class="flex items-end gap-4 border-b border-hairline">
  <h1 class="pb-1 text-3xl font-medium">{type.plural}</h1>
  <span class="pb-2 text-faded"
    >{counts.published.toLocaleString('en')} published{counts.drafts
      ? `, ${counts.drafts.toLocaleString('en')} ${counts.drafts === 1 ? 'draft' : 'drafts'}`
      : ''}{counts.generated ? `, ${counts.generated.toLocaleString('en')} of them made up` : ''}</span
  >
  <nav aria-label={type.plural} class="ml-auto flex">
    {#each places as place (place.name)}
      <a
        href={place.at}
        aria-current={here === place.name ? 'page' : undefined}
        class="-mb-px border-b-2 px-3 py-1.5 {here === place.name
          ? 'border-plum font-medium'
          : 'border-transparent text-faded hover:text-ink'}">{place.label}</a
      >
    {/each}
  </nav>
</div>
