<script lang="ts">
  import { X } from '@lucide/svelte';
  import type { Problem } from '$lib/core/base/result';
  import { RequestFailed, failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';

  let { open = $bindable() }: { open: boolean } = $props();

  interface Line {
    path: string;
    target: string;
  }
  let known: Line[] = $state([]);
  /** How many are kept, or found; undefined until that is known. */
  let total: number | undefined = $state();
  let search = $state('');
  /** Those that are shown were found by this. */
  let by = $state('');
  let text = $state('');
  let said = $state('');
  let problems: Problem[] = $state([]);

  let asked = 0;
  async function look() {
    const own = ++asked;
    const words = search;
    try {
      const found = await api('GET /redirects', { query: { search: words } });
      if (own !== asked) return;
      known = found.redirects;
      total = found.total;
      by = words;
    } catch (error) {
      said = failureWords(error);
    }
  }
  $effect(() => {
    if (open) {
      void search;
      void look();
    }
  });

  /** Lines of two addresses, parted by white space, a comma, a semicolon or an arrow. */
  const lines = $derived(
    text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean)
      .map((line) => {
        const [path = '', target = ''] = line.split(/\s*(?:→|->|[\t,;]|\s)\s*/).filter(Boolean);
        return { path, target };
      }),
  );

  async function add(event: SubmitEvent) {
    event.preventDefault();
    said = '';
    problems = [];
    try {
      const { added } = await api('POST /redirects', { body: lines });
      said = `${added} kept.`;
      text = '';
      await look();
    } catch (error) {
      said = error instanceof RequestFailed && error.problems.length ? error.message : failureWords(error);
      problems = error instanceof RequestFailed ? error.problems : [];
    }
  }
  async function remove(path: string) {
    try {
      await api('DELETE /redirects', { query: { path } });
      await look();
    } catch (error) {
      said = failureWords(error);
    }
  }
  const place = (at: string) => (/^\d+/.test(at) ? `Line ${Number.parseInt(at) + 1}: ` : '');
</script>

<Sheet
  bind:open
  wide
  title="Redirects"
  about="Where addresses lead at which there is no page. What once had another address leads on by itself: records, terms, authors, and types whose pattern has changed."
>
  <form onsubmit={add}>
    <label class="block"
      ><span class="dye-label">Add, one to a line: the old address, then the new one</span>
      <textarea
        class="mt-0.5 block w-full font-mono text-xs"
        rows="4"
        placeholder="/old/page /huts/grey-crag"
        bind:value={text}
      ></textarea>
    </label>
    <div class="mt-2 flex items-center gap-3">
      <Button tone="main" type="submit" disabled={!lines.length}
        >Keep {lines.length === 1 ? 'it' : `these ${lines.length || ''}`}</Button
      >
      <span role="status">{said}</span>
    </div>
    {#each problems.slice(0, 8) as problem, i (i)}<p role="alert" class="mt-1 text-madder">
        {place(problem.at)}{problem.what}
        {problem.fix ?? ''}
      </p>{/each}
  </form>
  <div class="mt-4 flex items-center gap-3">
    <h3 class="dye-label">
      {total === undefined
        ? said
          ? 'Not known'
          : 'Reading …'
        : `${total.toLocaleString('en')} ${by ? 'found' : 'kept'}`}
    </h3>
    {#if (total ?? 0) > 10 || search}<input
        class="ml-auto w-56"
        type="search"
        aria-label="Find a redirect"
        bind:value={search}
      />{/if}
  </div>
  {#if known.length}
    <table class="mt-1 w-full table-fixed border border-hairline text-left font-mono text-xs">
      <tbody>
        {#each known as { path, target } (path)}
          <tr class="border-t border-hairline first:border-t-0">
            <td class="truncate px-2 py-1">{path}</td>
            <td class="truncate px-2">→ {target}</td>
            <td class="w-10 px-2 text-right"
              ><button
                type="button"
                class="rounded-sm p-1.5 hover:bg-linen-deep"
                aria-label="Delete the redirect from {path}"
                onclick={() => remove(path)}><X size={13} /></button
              ></td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  {/if}
</Sheet>
