<script lang="ts">
  import { roleOfField } from '$lib/core/model/field';
  import { FileText } from '@lucide/svelte';
  import { untrack } from 'svelte';
  import type { Media } from '$lib/core/schema/record';
  import { mediaAddress } from '$lib/core/model/media';
  import Grip from '$lib/ui/carry/Grip.svelte';
  import { ListOrder, moved } from '$lib/ui/carry/list-order.svelte';
  import { api } from '$lib/studio/base/api';
  import MediaPicker from '$lib/studio/media/MediaPicker.svelte';
  import { Uploads } from '$lib/studio/media/uploads.svelte';
  import Button from '$lib/ui/Button.svelte';
  import type { InputProps } from './input';

  let { field, value, id, describedby, onchange }: InputProps = $props();

  const role = $derived(roleOfField(field));
  const many = $derived(role === 'pictures');
  const files = $derived(role === 'link');
  const ids = $derived(Array.isArray(value) ? (value as number[]) : typeof value === 'number' ? [value] : []);
  let known: Record<number, Media> = $state({});
  let choosing = $state(false);
  const order = new ListOrder(
    () => ids.length,
    (from, gap) => onchange(moved(ids, from, gap)),
  );
  let over = $state(false);
  const uploads = new Uploads((media) => put(media));

  $effect(() => {
    const wanted = ids;
    untrack(() => {
      for (const one of wanted)
        if (!known[one])
          void api('GET /media/{mediaId}', { mediaId: one })
            .then((media) => (known[one] = media))
            .catch(() => undefined);
    });
  });

  function put(media: Media) {
    known[media.id] = media;
    if (!files && !media.mime.startsWith('image/')) return;
    const now = untrack(() => ids);
    if (!many) onchange(media.id);
    else if (!now.includes(media.id)) onchange([...now, media.id]);
  }
  function take(one: number) {
    const left = ids.filter((other) => other !== one);
    onchange(many && left.length ? left : null);
  }
  function drop(event: DragEvent) {
    event.preventDefault();
    over = false;
    uploads.add([...(event.dataTransfer?.files ?? [])].slice(0, many ? 50 : 1));
  }
</script>

<div
  role="group"
  aria-label={field.label}
  class="rounded-sm border border-dashed p-2 {over ? 'border-plum bg-linen' : 'border-hairline'}"
  ondragover={(e) => {
    if (!e.dataTransfer?.types.includes('Files')) return;
    e.preventDefault();
    over = true;
  }}
  ondragleave={() => (over = false)}
  ondrop={drop}
>
  {#if ids.length}
    <ol class="mb-2 flex flex-wrap gap-2" {@attach order.list}>
      {#each ids as one, i (one)}
        {@const media = known[one]}
        <li
          class="gap-mark flex flex-col rounded-sm border border-hairline bg-paper {order.isMoving(i)
            ? 'opacity-50'
            : ''}"
          data-gap={order.sideOf(i)}
          data-gap-across
        >
          {#if media?.mime.startsWith('image/')}
            <img
              src={mediaAddress(media, 320)}
              alt={media.alt || media.name}
              class="h-24 {many ? 'w-36' : 'w-40'} object-cover"
              style="object-position:{media.focalX * 100}% {media.focalY * 100}%"
            />
          {:else}
            <span class="flex h-16 w-40 items-center justify-center bg-linen text-faded"><FileText size={28} /></span>
          {/if}
          <span class="flex items-center gap-1 px-1 py-0.5 text-xs {many ? 'w-36' : 'w-40'}">
            {#if many}<Grip label="Move {media?.name ?? one}" hold={order.grip(() => i)} />{/if}
            <a class="min-w-0 grow truncate hover:underline" href="/studio/library?open={one}" title={media?.name}
              >{media?.name ?? '…'}</a
            >
            <button
              type="button"
              class="size-6 shrink-0 text-faded hover:text-madder"
              aria-label="Take {media?.name ?? 'it'} away"
              onclick={() => take(one)}>×</button
            >
          </span>
          {#if media && !media.alt && media.mime.startsWith('image/')}<span class="bg-ochre px-1 text-xs"
              >No alternative text</span
            >{/if}
        </li>
      {/each}
    </ol>
  {/if}
  <div class="flex flex-wrap items-center gap-2">
    <Button {id} aria-describedby={describedby} onclick={() => (choosing = true)}
      >{files ? 'Choose a file' : many ? 'Choose pictures' : ids.length ? 'Choose another' : 'Choose a picture'}</Button
    >
    <label
      class="inline-flex h-7 cursor-pointer items-center rounded-sm border border-hairline bg-paper px-2.5 font-medium focus-within:outline-2 focus-within:outline-plum hover:border-faded"
    >
      From this computer
      <input
        type="file"
        class="sr-only"
        multiple={many}
        accept={files ? undefined : 'image/*'}
        onchange={(e) => {
          uploads.add([...(e.currentTarget.files ?? [])]);
          e.currentTarget.value = '';
        }}
      />
    </label>
    <span class="text-xs text-faded" data-act>or drop {many ? 'them' : 'it'} here</span>
  </div>
  {#each uploads.list as upload (upload.id)}
    {#if upload.state === 'sending'}
      <p class="mt-1.5 flex items-center gap-2 text-xs">
        <span class="w-40 truncate">{upload.name}</span><progress class="w-32" max="1" value={upload.part}
        ></progress><button type="button" class="underline" onclick={() => uploads.cancel(upload.id)}>Cancel</button>
      </p>
    {:else if upload.state === 'refused'}
      <p class="mt-1.5 text-madder" role="alert">{upload.said}</p>
    {/if}
  {/each}
</div>
<MediaPicker bind:open={choosing} {files} onpick={put} several={many} />
