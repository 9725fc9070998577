<script lang="ts">
  import { dayWords } from '$lib/studio/base/site-clock';
  import type { SvelteSet } from 'svelte/reactivity';
  import { ArrowDown, ArrowUp } from '@lucide/svelte';
  import { kindOf, type Field } from '$lib/core/model/model';
  import { roleOfField } from '$lib/core/model/field';
  import { mediaAddress } from '$lib/core/model/media';
  import type { ModelIndex } from '$lib/core/model/model-index';
  import type { ContentType } from '$lib/core/schema/model';
  import type { ContentRecord, Media } from '$lib/core/schema/record';
  import { may } from '$lib/studio/people/me';
  import { showValue } from './show';

  let {
    type,
    model,
    rows,
    columns,
    sort,
    sortTo,
    picked,
  }: {
    type: ContentType;
    model: ModelIndex;
    rows: { records: ContentRecord[]; titles: { id: number; title: string }[]; media: Media[] };
    columns: readonly Field[];
    /** The step that it is sorted by, after a minus where downwards. */
    sort: string;
    sortTo: (step: string) => string;
    /** Ids of the records that are chosen. */
    picked: SvelteSet<number>;
  } = $props();

  const titles = $derived(new Map(rows.titles.map((one) => [one.id, one])));
  const media = $derived(new Map(rows.media.map((one) => [one.id, one])));
  const pictureField = $derived(type.fields.find((field) => roleOfField(field)?.startsWith('picture')));
  const allHere = $derived(rows.records.every((record) => picked.has(record.id)));
  const sortStep = $derived(sort.replace(/^-/, ''));
  const sortDown = $derived(sort.startsWith('-'));
  const sortable = (field: Field) => {
    const known = kindOf(field);
    return known !== undefined && !known.many && known.kind.family.order !== undefined;
  };
</script>

{#snippet heading(step: string, label: string, right = false)}
  <th
    class="px-3 py-1.5 font-semibold {right ? 'text-right' : ''}"
    aria-sort={sortStep === step ? (sortDown ? 'descending' : 'ascending') : undefined}
  >
    <a
      class="inline-flex items-center gap-1 whitespace-nowrap hover:text-ink"
      href={sortTo(step)}
      data-sveltekit-noscroll
      >{label}{#if sortStep === step}{#if sortDown}<ArrowDown size={12} />{:else}<ArrowUp size={12} />{/if}{/if}</a
    >
  </th>
{/snippet}

<div class="mt-3 overflow-x-auto">
  <table class="w-full border-collapse border border-hairline bg-paper text-left">
    <thead>
      <tr class="dye-label bg-linen-deep">
        <th class="w-8 py-1.5 pl-3"
          >{#if may('changeRecords')}<input
              type="checkbox"
              class="block"
              aria-label="Choose all on this page"
              checked={allHere}
              onchange={(e) => {
                for (const record of rows.records)
                  if (e.currentTarget.checked) picked.add(record.id);
                  else picked.delete(record.id);
              }}
            />{/if}</th
        >
        {#if pictureField}<th class="w-14"><span class="sr-only">{pictureField.label}</span></th>{/if}
        {@render heading('@title', 'Title')}
        {#each columns as field (field.id)}
          {#if sortable(field)}{@render heading(
              field.id,
              field.label,
              Boolean(kindOf(field)?.kind.family.figures),
            )}{:else}<th class="px-3 py-1.5 font-semibold whitespace-nowrap">{field.label}</th>{/if}
        {/each}
        {@render heading('@changed', 'Changed')}
        {@render heading('@status', 'Status')}
      </tr>
    </thead>
    <tbody>
      {#each rows.records as record (record.id)}
        <tr class="border-t border-hairline {picked.has(record.id) ? 'bg-linen' : 'hover:bg-linen/60'}">
          <td class="pl-3"
            >{#if may('changeRecords')}<input
                type="checkbox"
                class="block"
                aria-label="Choose {record.title}"
                checked={picked.has(record.id)}
                onchange={(e) => (e.currentTarget.checked ? picked.add(record.id) : picked.delete(record.id))}
              />{/if}</td
          >
          {#if pictureField}
            {@const value = record.values[pictureField.id]}
            {@const picture = media.get((Array.isArray(value) ? value[0] : value) as number)}
            <td class="py-1"
              >{#if picture}<img
                  src={mediaAddress(picture, 320)}
                  alt=""
                  loading="lazy"
                  class="h-8 w-12 rounded-sm object-cover"
                />{/if}</td
            >
          {/if}
          <td class="max-w-72 px-3 py-1.5"
            ><a
              class="block truncate font-medium underline-offset-2 hover:underline"
              title={record.title}
              href="/studio/content/{type.id}/{record.id}">{record.title}</a
            ></td
          >
          {#each columns as field (field.id)}
            {@const words = showValue(field, record.values[field.id], model, {
              record: (id) => titles.get(id),
              media: (id) => media.get(id),
            })}
            <td
              class="max-w-44 truncate px-3 py-1.5 whitespace-nowrap {kindOf(field)?.kind.family.figures
                ? 'text-right tabular-nums'
                : ''}"
              title={words}>{words}</td
            >
          {/each}
          <td class="px-3 py-1.5 whitespace-nowrap text-faded">{dayWords(record.changed)}</td>
          <td class="px-3 py-1.5 whitespace-nowrap {record.status === 'published' ? 'text-faded' : 'text-weld italic'}"
            >{{ draft: 'Draft', published: 'Published', scheduled: 'Scheduled' }[
              record.status
            ]}{#if record.generated}<span class="ml-1 rounded-sm bg-ochre px-1 text-xs text-ink not-italic"
                >made up</span
              >{/if}</td
          >
        </tr>
      {/each}
    </tbody>
  </table>
</div>
