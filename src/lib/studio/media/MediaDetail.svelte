<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import type { Media } from '$lib/core/schema/record';
  import { fileAddress, isDrawing, mediaAddress, WIDTHS } from '$lib/core/model/media';
  import Uses from '$lib/studio/media/Uses.svelte';
  import { type RequestFailed } from '$lib/studio/base/request';
  import type { ResponseOf } from '$lib/client/api';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';

  let { id, onclose, ondelete }: { id: number; onclose: () => void; ondelete: (id: number) => void } = $props();

  type Detail = Media & ResponseOf<'GET /media/{mediaId}/uses'>;
  let media: Detail | undefined = $state();
  let said = $state('');
  const picture = $derived(media?.mime.startsWith('image/') ?? false);

  $effect(() => {
    void Promise.all([api('GET /media/{mediaId}', { mediaId: id }), api('GET /media/{mediaId}/uses', { mediaId: id })])
      .then(([found, { uses, editable }]) => (media = { ...found, uses, editable }))
      .catch((error: unknown) => (said = (error as Error).message));
  });

  async function change(part: Partial<Media>) {
    if (!media?.editable) return;
    media = { ...media, ...part };
    try {
      await api('PATCH /media/{mediaId}', { mediaId: id, body: part });
      said = 'Saved';
      await invalidateAll();
    } catch (error) {
      const refused = error as RequestFailed;
      said = refused.problems.map((p) => p.what).join(' ') || refused.message;
    }
  }
  const clamp = (n: number) => Math.round(Math.max(0, Math.min(1, n)) * 100) / 100;
  function point(event: PointerEvent) {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    void change({
      focalX: clamp((event.clientX - box.left) / box.width),
      focalY: clamp((event.clientY - box.top) / box.height),
    });
  }
  function nudge(event: KeyboardEvent) {
    const by = { ArrowLeft: [-0.05, 0], ArrowRight: [0.05, 0], ArrowUp: [0, -0.05], ArrowDown: [0, 0.05] }[event.key];
    if (!by || !media) return;
    event.preventDefault();
    void change({ focalX: clamp(media.focalX + by[0]!), focalY: clamp(media.focalY + by[1]!) });
  }
</script>

{#if media}
  <div class="flex items-start gap-2">
    <h2 class="min-w-0 grow text-lg font-medium break-words">{media.name}</h2>
    <Button tone="bare" aria-label="Close" onclick={onclose}>×</Button>
  </div>
  {#if picture}
    <div
      class="relative mt-2 cursor-crosshair"
      role="slider"
      tabindex="0"
      aria-label="Focal point: {Math.round(media.focalX * 100)} percent from the left, {Math.round(
        media.focalY * 100,
      )} from the top"
      aria-valuenow={Math.round(media.focalX * 100)}
      onpointerdown={point}
      onkeydown={nudge}
    >
      <img src={mediaAddress(media, 640)} alt={media.alt} class="w-full rounded-sm" draggable="false" />
      <span
        class="pointer-events-none absolute size-6 -translate-1/2 rounded-full border-2 border-dashed border-paper outline-2 outline-plum"
        style="left:{media.focalX * 100}%;top:{media.focalY * 100}%"
      ></span>
    </div>
    {#if media.editable}<p class="mt-1 text-xs text-faded">
        Click where the picture matters most; cut to a shape, that point stays in sight.
      </p>{/if}
    <div class="mt-2 flex gap-2">
      {#each ['aspect-square w-20', 'aspect-[3/1] w-40', 'aspect-[1/2] w-12'] as shape (shape)}
        <img
          src={mediaAddress(media, 320)}
          alt=""
          class="{shape} rounded-sm object-cover"
          style="object-position:{media.focalX * 100}% {media.focalY * 100}%"
        />
      {/each}
    </div>
    <label class="mt-3 block"
      ><span class="dye-label">Alternative text</span><textarea
        class="field-sizing-content block min-h-14 w-full"
        placeholder="What is to be seen, for those who do not see it"
        value={media.alt}
        readonly={!media.editable}
        onchange={(e) => void change({ alt: e.currentTarget.value })}
      ></textarea></label
    >
  {/if}
  <label class="mt-2 block"
    ><span class="dye-label">Name</span><input
      class="block w-full"
      value={media.name}
      readonly={!media.editable}
      onchange={(e) => void change({ name: e.currentTarget.value })}
    /></label
  >
  {#if said}<p class="mt-1 {said === 'Saved' ? 'text-moss' : 'text-madder'}" role="status">{said}</p>{/if}
  <dl class="mt-3 grid grid-cols-[auto_1fr] gap-x-4 leading-7 text-faded">
    <dt>Type</dt>
    <dd class="text-ink">{media.mime}</dd>
    {#if media.width}<dt>Size</dt>
      <dd class="text-ink">{media.width} × {media.height} pixels</dd>{/if}
    {#if picture && !isDrawing(media)}
      <dt>Widths</dt>
      <dd>
        {#each WIDTHS.filter((w) => w <= (media?.width ?? 0)) as width (width)}<a
            class="mr-2 inline-block text-plum underline"
            target="_blank"
            href="/media/{id}/{width}.webp">{width}</a
          >{:else}as it is{/each}
      </dd>
    {/if}
    <dt>As it is</dt>
    <dd>
      <a class="text-plum underline" href={fileAddress(media)} download
        >{(media.size / 1000).toLocaleString('en', { maximumFractionDigits: 0 })} kB</a
      >
    </dd>
  </dl>
  <div class="mt-4 border-t border-hairline pt-3"><Uses uses={media.uses} /></div>
  {#if media.editable}<button
      type="button"
      class="mt-4 text-madder underline underline-offset-2"
      onclick={() => ondelete(id)}>Delete it{media.uses.length ? ', and take it out of these' : ''}</button
    >{/if}
{:else}<p class="text-faded">{said || 'Looking …'}</p>{/if}
