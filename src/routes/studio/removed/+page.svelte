<script lang="ts">
  import { dayWords, momentWords } from '$lib/studio/base/site-clock';
  import { may } from '$lib/studio/people/me';
  import { goto, invalidateAll } from '$app/navigation';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  let said = $state('');
  let failed = $state('');
  let busy = $state('');

  async function bringBack(id: string) {
    said = failed = '';
    busy = id;
    try {
      const { what } = await api('POST /removals/{removalId}/undo', { removalId: id });
      said = `Brought back: ${what}.`;
      await invalidateAll();
    } catch (error) {
      failed = failureWords(error);
    }
    busy = '';
  }
  async function keep(event: SubmitEvent) {
    event.preventDefault();
    said = failed = '';
    const days = Number(new FormData(event.currentTarget as HTMLFormElement).get('days'));
    try {
      await api('PUT /removals/days', { body: { days } });
      said = `What is deleted can be brought back for ${days} ${days === 1 ? 'day' : 'days'}.`;
      await invalidateAll();
    } catch (error) {
      failed = failureWords(error);
    }
  }
  const address = (page: number) =>
    `?${new URLSearchParams({ ...(data.search ? { search: data.search } : {}), page: String(page) })}`;
</script>

<svelte:head><title>Removed · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto">
  <div class="mx-auto max-w-5xl px-8 py-5">
    <h1 class="text-3xl font-medium">Removed</h1>
    <p class="mt-1 max-w-2xl text-faded">
      What was deleted, and what was changed for many records at once. It can be put back into the state it had before,
      with everything that hung on it.
    </p>
    <div class="mt-4 flex flex-wrap items-center gap-3">
      <form
        role="search"
        onsubmit={(event) => {
          event.preventDefault();
          const search = new FormData(event.currentTarget).get('search')?.toString() ?? '';
          void goto(`?${new URLSearchParams(search ? { search } : {})}`);
        }}
      >
        <input
          type="search"
          name="search"
          value={data.search}
          placeholder="Find by name"
          aria-label="Find by name"
          class="w-56"
        />
      </form>
      <span class="text-faded" data-total>{data.total.toLocaleString('en')} {data.search ? 'found' : 'kept'}</span>
      {#if !may('keepRemovals')}<span class="ml-auto text-faded"
          >Kept for {data.days} {data.days === 1 ? 'day' : 'days'}</span
        >
      {:else}<form class="ml-auto flex items-center gap-2" onsubmit={keep}>
          <label class="flex items-center gap-2"
            >Kept for<input
              type="number"
              name="days"
              min="1"
              max="3650"
              required
              value={data.days}
              class="w-20"
            />days</label
          >
          <Button type="submit">Set</Button>
        </form>{/if}
    </div>
    {#if said}<p class="mt-3 rounded-sm bg-linen-deep px-3 py-1.5" role="status">{said}</p>{/if}
    {#if failed}<p class="mt-3 rounded-sm bg-ochre px-3 py-1.5" role="alert">{failed}</p>{/if}
    {#if data.items.length}
      <table class="mt-4 w-full border-collapse border border-hairline bg-paper text-left">
        <thead>
          <tr class="dye-label bg-linen-deep">
            <th class="px-3 py-1.5 font-semibold">What</th>
            <th class="px-3 py-1.5 font-semibold">Holds</th>
            <th class="px-3 py-1.5 font-semibold">Removed</th>
            <th class="px-3 py-1.5 font-semibold">Can be brought back until</th>
            <th class="px-3 py-1.5"><span class="sr-only">Bring back</span></th>
          </tr>
        </thead>
        <tbody>
          {#each data.items as item (item.id)}
            <tr class="border-t border-hairline hover:bg-linen/60">
              <td class="max-w-72 truncate px-3 py-1.5 font-medium" title={item.what}>{item.what}</td>
              <td class="max-w-72 truncate px-3 py-1.5 text-faded" title={item.holds}>{item.holds}</td>
              <td class="px-3 py-1.5 whitespace-nowrap">{momentWords(item.created)}</td>
              <td class="px-3 py-1.5 whitespace-nowrap text-faded">{dayWords(item.until)}</td>
              <td class="px-3 py-1.5 text-right"
                ><Button
                  disabled={busy !== ''}
                  aria-label="Bring back {item.what}"
                  onclick={() => void bringBack(item.id)}>Bring back</Button
                ></td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      {#if data.pages > 1}
        <nav aria-label="Pages" class="mt-3 flex items-center gap-3">
          {#if data.page > 1}<a class="text-plum underline" href={address(data.page - 1)}>Previous page</a>{/if}
          <span class="text-faded">Page {data.page.toLocaleString('en')} of {data.pages.toLocaleString('en')}</span>
          {#if data.page < data.pages}<a class="text-plum underline" href={address(data.page + 1)}>Next page</a>{/if}
        </nav>
      {/if}
    {:else}
      <p class="mt-8 text-faded">
        {data.search ? `Nothing that was removed is called “${data.search}”.` : 'Nothing has been removed.'}
      </p>
    {/if}
  </div>
</main>
