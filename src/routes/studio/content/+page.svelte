<script lang="ts">
  import { may } from '$lib/studio/people/me';
  import Sign from '$lib/ui/Sign.svelte';
  import { ArrowLeft, ArrowRight } from '@lucide/svelte';
  import { invalidateAll } from '$app/navigation';
  import { kindNamed } from '$lib/core/model/kinds';
  import { api } from '$lib/studio/base/api';
  import Backup from '$lib/studio/exchange/Backup.svelte';

  let { data } = $props();
  let failed = $state('');

  /** Types stand in this order here, on the workbench and in the site's navigation. */
  async function move(from: number, by: number) {
    const ids = data.model.types.map((type) => type.id);
    const [id] = ids.splice(from, 1);
    if (id) ids.splice(from + by, 0, id);
    failed = '';
    try {
      await api('PUT /types/order', { body: { ids } });
      await invalidateAll();
    } catch (error) {
      failed = (error as Error).message;
    }
  }
</script>

<svelte:head><title>Content · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto">
  <div class="mx-auto max-w-6xl px-8 py-6">
    <div class="flex items-end">
      <h1 class="text-3xl font-medium">Content</h1>
      {#if may('createType')}<a
          href="/studio/content/new"
          class="ml-auto inline-flex h-7 items-center rounded-sm bg-plum px-2.5 font-medium text-paper hover:bg-plum-deep"
          >New content type</a
        >{/if}
    </div>
    {#if failed}<p class="mt-2 text-madder" role="alert">{failed}</p>{/if}
    <div class="mt-5 grid grid-cols-3 gap-4">
      {#each data.model.types as type, i (type.id)}
        {@const count = data.counts[type.id]}
        <section class="flex flex-col border border-hairline bg-paper">
          <div class="flex items-baseline gap-2 border-b border-hairline px-4 py-2.5">
            <h2 class="truncate text-xl font-medium">
              <a class="underline-offset-4 hover:underline" href="/studio/content/{type.id}">{type.plural}</a>
            </h2>
            {#if !data.seen.includes(type.id)}<span
                class="text-faded"
                title="Visitors see its records once it is released">not released</span
              >{/if}
            <span class="text-faded">{((count?.published ?? 0) + (count?.drafts ?? 0)).toLocaleString('en')}</span>
            <span class="ml-auto flex self-center text-faded">
              {#if may('orderTypes')}
                <button
                  type="button"
                  class="p-1.5 enabled:hover:text-ink disabled:opacity-30"
                  aria-label="Move {type.plural} forward"
                  disabled={i === 0}
                  onclick={() => void move(i, -1)}><ArrowLeft size={14} /></button
                >
                <button
                  type="button"
                  class="p-1.5 enabled:hover:text-ink disabled:opacity-30"
                  aria-label="Move {type.plural} back"
                  disabled={i === data.model.types.length - 1}
                  onclick={() => void move(i, 1)}><ArrowRight size={14} /></button
                >
              {/if}
            </span>
            {#if may('saveType')}<a
                class="text-plum underline underline-offset-2"
                href="/studio/content/{type.id}/fields">Fields</a
              >{/if}
            {#if may('createRecord')}<a
                class="text-plum underline underline-offset-2"
                href="/studio/content/{type.id}/new">New</a
              >{/if}
          </div>
          <ul class="px-4 py-2">
            {#each type.fields.slice(0, 8) as field (field.id)}
              <li class="flex items-baseline gap-2 py-px">
                <Sign sign={kindNamed(field.kind)?.sign} size={13} class="self-center text-faded" /><span
                  class="truncate">{field.label}</span
                ><span class="ml-auto text-xs whitespace-nowrap text-faded">{kindNamed(field.kind)?.label}</span>
              </li>
            {:else}<li class="text-faded">No fields yet.</li>{/each}
            {#if type.fields.length > 8}<li class="pl-6 text-xs text-faded">and {type.fields.length - 8} more</li>{/if}
          </ul>
        </section>
      {:else}
        <p class="col-span-3 text-faded">
          There is no content type yet. {may('createType')
            ? 'Make one, with the fields that its records shall have.'
            : 'A designer makes one.'}
        </p>
      {/each}
    </div>
    {#if may('readBackup')}<Backup empty={!data.model.types.length && !data.model.taxonomies.length} />{/if}
  </div>
</main>
