<script lang="ts">
  import { counted } from '$lib/core/base/counted';
  import { may } from '$lib/studio/people/me';
  import LookOnly from '$lib/studio/people/LookOnly.svelte';
  import { FieldSchema } from '$lib/core/schema/field';
  import { invalidateAll } from '$app/navigation';
  import type { Author } from '$lib/core/schema/model';
  import { htmlText } from '$lib/core/base/text';
  import MediaPicker from '$lib/studio/media/MediaPicker.svelte';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import { offerUndo } from '$lib/studio/base/undo.svelte';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  type Draft = Omit<Author, 'id'> & { id?: number };
  const blank = (): Draft => ({ name: '', slug: '', about: '', pictureId: null });
  let draft: Draft | undefined = $state();
  let said = $state('');
  let choosing = $state(false);
  const about = FieldSchema.parse({ id: 'about', key: 'about', label: 'About', kind: 'richtext' });

  async function save(event: SubmitEvent) {
    event.preventDefault();
    said = '';
    try {
      const { id, ...author } = $state.snapshot(draft) as Draft;
      if (id) await api('PUT /authors/{authorId}', { authorId: id, body: author });
      else await api('POST /authors', { body: author });
      draft = undefined;
      await invalidateAll();
    } catch (error) {
      said = failureWords(error);
    }
  }
  async function remove(author: Draft) {
    if (author.id === undefined) return;
    try {
      const { removal } = await api('DELETE /authors/{authorId}', { authorId: author.id });
      offerUndo(removal, `${author.name} is deleted; records stay, by nobody in particular.`);
      draft = undefined;
      await invalidateAll();
    } catch (error) {
      said = (error as Error).message;
    }
  }
</script>

<svelte:head><title>Authors · Plum Thread</title></svelte:head>

<main class="grid min-h-0 grow grid-cols-[minmax(0,1fr)_30rem]">
  <section class="min-h-0 overflow-y-auto px-8 py-5" aria-label="Authors">
    <div class="flex items-end">
      <h1 class="text-3xl font-medium">Authors</h1>
      {#if may('createAuthor')}<Button tone="main" class="ml-auto" onclick={() => (draft = blank())}>New author</Button
        >{/if}
    </div>
    <ul class="mt-4 flex flex-col gap-2">
      {#each data.authors as author (author.id)}
        <li>
          <button
            type="button"
            class="flex w-full items-center gap-4 border bg-paper p-3 text-left hover:border-faded {draft?.id ===
            author.id
              ? 'border-plum'
              : 'border-hairline'}"
            onclick={() => (draft = { ...author })}
          >
            {#if author.pictureId}<img
                src="/media/{author.pictureId}/320.webp"
                alt=""
                class="size-14 shrink-0 rounded-full object-cover"
              />
            {:else}<span
                class="flex size-14 shrink-0 items-center justify-center rounded-full bg-linen-deep font-display text-xl"
                aria-hidden="true">{author.name.slice(0, 1)}</span
              >{/if}
            <span class="min-w-0">
              <span class="block font-medium">{author.name}</span>
              <span class="line-clamp-2 block text-faded"
                >{htmlText(author.about) || 'Nothing is said about them yet.'}</span
              >
            </span>
            <span class="ml-auto shrink-0 text-xs text-faded">{counted(data.counts[author.id] ?? 0, 'record')}</span>
          </button>
        </li>
      {:else}
        <li class="text-faded">
          Nobody yet. Records can be written without an author; add one to show who wrote them.
        </li>
      {/each}
    </ul>
  </section>
  <aside class="min-h-0 overflow-y-auto border-l border-hairline bg-paper px-6 py-5">
    {#if draft}
      {#key draft.id}
        <form class="flex flex-col gap-3" onsubmit={save}>
          <LookOnly allowed={may('saveAuthor')}>
            <label
              ><span class="dye-label">Name</span><input
                class="block w-full font-display text-lg"
                bind:value={draft.name}
              /></label
            >
            <label
              ><span class="dye-label">Address part</span><input
                class="block w-full font-mono text-xs"
                placeholder="from the name"
                bind:value={draft.slug}
              /></label
            >
            <div>
              <span class="dye-label block">Picture</span>
              <span class="flex items-center gap-2">
                {#if draft.pictureId}<img
                    src="/media/{draft.pictureId}/320.webp"
                    alt=""
                    class="size-16 rounded-full object-cover"
                  />{/if}
                <Button onclick={() => (choosing = true)}
                  >{draft.pictureId ? 'Choose another' : 'Choose a picture'}</Button
                >
                {#if draft.pictureId}<Button tone="bare" onclick={() => draft && (draft.pictureId = null)}
                    >Take it away</Button
                  >{/if}
              </span>
            </div>
            <div>
              <label class="dye-label block" for="about">About</label>
              {#await import('$lib/studio/values/RichInput.svelte')}
                <div class="h-40 rounded-sm border border-hairline bg-paper" aria-busy="true"></div>
              {:then { default: RichInput }}
                <RichInput
                  field={about}
                  settings={{}}
                  id="about"
                  value={draft.about}
                  invalid={false}
                  onchange={(value) => draft && (draft.about = (value as string) ?? '')}
                />
              {/await}
            </div>
            <div class="flex items-center gap-3">
              <Button tone="main" type="submit">Save</Button>
              <Button tone="bare" onclick={() => (draft = undefined)}>Close</Button>
              {#if draft.id}<button
                  type="button"
                  class="ml-auto text-madder underline underline-offset-2"
                  onclick={() => draft && void remove(draft)}>Delete</button
                >{/if}
            </div>
          </LookOnly>
          {#if said}<p class="text-madder" role="alert">{said}</p>{/if}
        </form>
      {/key}
    {:else}
      <p class="font-display text-xl">Choose an author</p>
      <p class="mt-1 text-faded">Name, picture and a few words about them can be bound in every template.</p>
    {/if}
  </aside>
</main>
<MediaPicker bind:open={choosing} onpick={(media) => draft && (draft.pictureId = media.id)} />
