<script lang="ts">
  import { momentWords } from '$lib/studio/base/site-clock';
  import { goto } from '$app/navigation';
  import { WAY_WORDS } from '$lib/core/people/activity';
  import { placeOfSubject } from '$lib/studio/people/subjects';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  const given = $derived({ ...data.filter, account: data.account ? String(data.account) : '' });
  const filtered = $derived(Object.values(given).some(Boolean));
  const address = (page: number) => {
    const said = Object.entries({ ...given, page: page > 1 ? String(page) : '' }).filter(([, value]) => value);
    return `?${new URLSearchParams(said as [string, string][])}`;
  };
  function ask(event: SubmitEvent) {
    event.preventDefault();
    const said = [...new FormData(event.currentTarget as HTMLFormElement)].filter(([, value]) => value !== '');
    void goto(`?${new URLSearchParams(said as [string, string][])}`);
  }
</script>

<svelte:head><title>Activity · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto">
  <div class="mx-auto max-w-6xl px-8 py-5">
    <h1 class="text-3xl font-medium">Activity</h1>
    <p class="mt-1 text-faded">Who changed what, when, and from where. Values are not in it.</p>
    <form role="search" onsubmit={ask} class="mt-4 flex flex-wrap items-end gap-3">
      <label class="block"
        >What<input
          type="search"
          name="search"
          value={given.search}
          placeholder="Words"
          class="mt-1 block w-44"
        /></label
      >
      <label class="block"
        >Who<select name="account" value={given.account} class="mt-1 block w-44">
          <option value="">Anybody</option>
          {#each data.people as one (one.id)}<option value={String(one.id)}>{one.name}</option>{/each}
        </select></label
      >
      <label class="block"
        >From where<select name="via" value={given.via ?? ''} class="mt-1 block">
          <option value="">Anywhere</option>
          {#each data.ways as one (one)}<option value={one}>{WAY_WORDS[one]}</option>{/each}
        </select></label
      >
      <label class="block">Since<input type="date" name="from" value={given.from} class="mt-1 block" /></label>
      <label class="block">Until<input type="date" name="until" value={given.until} class="mt-1 block" /></label>
      {#if given.subject}<input type="hidden" name="subject" value={given.subject} />{/if}
      <Button type="submit">Show</Button>
      {#if filtered}<a href="/studio/activity" class="pb-1 text-plum underline underline-offset-2">Show all</a>{/if}
      <span class="ml-auto pb-1 text-faded" data-total
        >{data.total.toLocaleString('en')} {data.total === 1 ? 'entry' : 'entries'}</span
      >
    </form>
    {#if given.subject}<p class="mt-3 text-faded">Only what was about {given.subject}.</p>{/if}
    {#if data.items.length}
      <table class="mt-4 w-full border-collapse border border-hairline bg-paper text-left">
        <thead>
          <tr class="dye-label bg-linen-deep">
            <th class="px-3 py-1.5 font-semibold">When</th>
            <th class="px-3 py-1.5 font-semibold">Who</th>
            <th class="px-3 py-1.5 font-semibold">What</th>
            <th class="px-3 py-1.5 font-semibold">From where</th>
          </tr>
        </thead>
        <tbody>
          {#each data.items as item (item.id)}
            {@const place = placeOfSubject(item.subject)}
            <tr class="border-t border-hairline hover:bg-linen/60">
              <td class="px-3 py-1.5 whitespace-nowrap text-faded"
                ><time datetime={item.moment}>{momentWords(item.moment)}</time></td
              >
              <td class="px-3 py-1.5 whitespace-nowrap">{item.who}</td>
              <td class="px-3 py-1.5"
                >{#if place}<a href={place} class="hover:underline">{item.what}</a>{:else}{item.what}{/if}</td
              >
              <td class="px-3 py-1.5 whitespace-nowrap text-faded">{WAY_WORDS[item.via]}</td>
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
      <p class="mt-8 text-faded">{filtered ? 'Nothing was done that fits.' : 'Nothing has been done yet.'}</p>
    {/if}
  </div>
</main>
