<script lang="ts">
  import type { ContentRecord, Media } from '$lib/core/content/record';
  import { kindOf, type Field } from '$lib/core/model/model';
  import { sendFile } from '$lib/studio/request';

  let {
    field,
    value,
    records,
    media,
    invalid,
    describedby,
    onchange,
  }: {
    field: Field;
    value: unknown;
    /** Records that a relation may lead to. */
    records: Pick<ContentRecord, 'id' | 'title' | 'typeId' | 'status'>[];
    media: Media[];
    invalid: boolean;
    describedby?: string;
    onchange: (value: unknown) => void;
  } = $props();

  const known = $derived(kindOf(field));
  const control = $derived(known?.kind.control ?? 'line');
  const settings = $derived(
    (known?.settings ?? {}) as {
      unit?: string;
      yes?: string;
      no?: string;
      min?: number;
      max?: number;
      maxLength?: number;
      many?: boolean;
      typeIds?: string[];
      options?: { key: string; label: string }[];
    },
  );
  const link = $derived((value ?? { url: '' }) as { url: string; label?: string });
  const ids = $derived(Array.isArray(value) ? (value as number[]) : []);
  const choices = $derived(
    records.filter((record) => settings.typeIds?.includes(record.typeId) && !ids.includes(record.id)),
  );
  let added: Media[] = $state([]);
  let uploading = $state(false);
  let refused = $state('');

  async function upload(file: File) {
    uploading = true;
    refused = '';
    try {
      const picture = await sendFile<Media>(`/api/media?${new URLSearchParams({ name: file.name })}`, file);
      added.push(picture);
      onchange(picture.id);
    } catch (error) {
      refused = (error as Error).message;
    }
    uploading = false;
  }

  const attributes = $derived({ id: field.id, 'aria-invalid': invalid, 'aria-describedby': describedby });
  const localTime = (instant: unknown) =>
    typeof instant === 'string' && instant
      ? new Date(Date.parse(instant) - new Date(instant).getTimezoneOffset() * 60_000).toISOString().slice(0, 16)
      : '';
</script>

{#if control === 'line'}
  <input {...attributes} class="w-full" value={value ?? ''} oninput={(e) => onchange(e.currentTarget.value || null)} />
{:else if control === 'area'}
  <textarea
    {...attributes}
    class="field-sizing-content min-h-20 w-full"
    value={(value as string) ?? ''}
    oninput={(e) => onchange(e.currentTarget.value || null)}
  ></textarea>
{:else if control === 'number'}
  <span class="flex items-center gap-2">
    <input
      {...attributes}
      type="number"
      step="any"
      class="w-40"
      value={value ?? ''}
      oninput={(e) => onchange(e.currentTarget.value === '' ? null : Number(e.currentTarget.value))}
    />
    {#if settings.unit}<span class="text-faded">{settings.unit}</span>{/if}
  </span>
{:else if control === 'yesno'}
  <select
    {...attributes}
    value={value === undefined || value === null ? '' : String(value)}
    onchange={(e) => onchange(e.currentTarget.value === '' ? null : e.currentTarget.value === 'true')}
  >
    <option value="">Not said</option>
    <option value="true">{settings.yes || 'Yes'}</option>
    <option value="false">{settings.no || 'No'}</option>
  </select>
{:else if control === 'date'}
  <input {...attributes} type="date" value={value ?? ''} onchange={(e) => onchange(e.currentTarget.value || null)} />
{:else if control === 'datetime'}
  <input
    {...attributes}
    type="datetime-local"
    value={localTime(value)}
    onchange={(e) => onchange(e.currentTarget.value ? new Date(e.currentTarget.value).toISOString() : null)}
  />
{:else if control === 'choice'}
  <select {...attributes} value={value ?? ''} onchange={(e) => onchange(e.currentTarget.value || null)}>
    <option value="">Not chosen</option>
    {#each settings.options ?? [] as option (option.key)}<option value={option.key}>{option.label}</option>{/each}
  </select>
{:else if control === 'link'}
  <span class="flex gap-2">
    <input
      {...attributes}
      class="grow"
      placeholder="https://"
      value={link.url}
      oninput={(e) => onchange(e.currentTarget.value || link.label ? { ...link, url: e.currentTarget.value } : null)}
    />
    <input
      class="w-48"
      aria-label="Words for {field.label}"
      placeholder="Words, if you like"
      value={link.label ?? ''}
      oninput={(e) => onchange({ ...link, label: e.currentTarget.value || undefined })}
    />
  </span>
{:else if control === 'picture'}
  <span class="flex items-center gap-3">
    {#if typeof value === 'number'}<img
        src="/media/{value}/320.webp"
        alt={media.find((m) => m.id === value)?.alt ?? ''}
        class="h-16 rounded-sm"
      />{/if}
    <select
      {...attributes}
      value={value ?? ''}
      onchange={(e) => onchange(e.currentTarget.value === '' ? null : Number(e.currentTarget.value))}
    >
      <option value="">No picture</option>
      {#each [...media, ...added] as medium (medium.id)}<option value={medium.id}>{medium.name}</option>{/each}
    </select>
    <label
      class="inline-flex h-7 cursor-pointer items-center rounded-sm border border-hairline bg-paper px-2.5 font-medium focus-within:outline-2 focus-within:outline-plum hover:border-faded"
    >
      {uploading ? 'Adding …' : 'Add a picture'}
      <input
        type="file"
        accept="image/jpeg,image/png,image/webp,image/gif"
        class="sr-only"
        onchange={(e) => e.currentTarget.files?.[0] && upload(e.currentTarget.files[0])}
      />
    </label>
    {#if refused}<span class="text-madder">{refused}</span>{/if}
  </span>
{:else if control === 'records'}
  <span class="flex flex-wrap items-center gap-1.5">
    {#each ids as one (one)}
      {@const record = records.find((r) => r.id === one)}
      <button
        type="button"
        class="rounded-sm border border-hairline bg-linen px-2 py-0.5 hover:border-faded"
        aria-label="Take {record?.title ?? one} away"
        onclick={() => onchange(ids.filter((id) => id !== one))}>{record?.title ?? one} ×</button
      >
    {/each}
    <select
      {...attributes}
      value=""
      onchange={(e) => {
        const chosen = Number(e.currentTarget.value);
        if (chosen) onchange(settings.many ? [...ids, chosen] : [chosen]);
        e.currentTarget.value = '';
      }}
    >
      <option value="">{settings.many || !ids.length ? 'Add one' : 'Take another one'}</option>
      {#each choices as record (record.id)}<option value={record.id}
          >{record.title}{record.status === 'draft' ? ' (draft)' : ''}</option
        >{/each}
    </select>
  </span>
{/if}
