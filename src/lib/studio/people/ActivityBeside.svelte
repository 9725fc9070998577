<script lang="ts">
  import { momentWords } from '$lib/studio/site-clock';
  import type { Way } from '$lib/core/people/activity';
  import { WAY_WORDS } from '$lib/core/people/activity';
  import { failureWords, send } from '../request';
  import { may } from './me';

  /** What was done to one thing, such as `record 12`: the last of it, read when it is opened. */
  let { subject }: { subject: string } = $props();

  interface Entry {
    id: number;
    moment: string;
    who: string;
    via: Way;
    what: string;
  }
  let entries = $state<Entry[]>();
  let failed = $state('');
  const asked = $derived(`subject=${encodeURIComponent(subject)}`);

  async function read() {
    failed = '';
    try {
      entries = (await send<{ items: Entry[] }>('GET', `/api/v1/activity?${asked}`)).items.slice(0, 8);
    } catch (failure) {
      failed = failureWords(failure);
    }
  }
</script>

{#if may('listActivity')}
  <details class="border-t border-hairline pt-2" ontoggle={(event) => event.currentTarget.open && void read()}>
    <summary class="cursor-pointer text-plum underline underline-offset-2">Who did what</summary>
    {#if failed}<p role="alert" class="mt-1 text-madder">{failed}</p>{/if}
    <ul class="mt-1.5 space-y-1.5">
      {#each entries ?? [] as entry (entry.id)}
        <li>
          <span class="font-medium">{entry.who}</span>
          <span class="text-xs text-faded"
            ><time datetime={entry.moment}>{momentWords(entry.moment)}</time>, from {WAY_WORDS[entry.via]}</span
          >
          <span class="block">{entry.what}</span>
        </li>
      {:else}{#if entries}<li class="text-faded">Nothing since people have accounts here.</li>{/if}{/each}
    </ul>
    {#if !entries && !failed}<p class="text-faded">Reading …</p>{/if}
    {#if entries?.length}<a
        class="mt-1.5 inline-block text-plum underline underline-offset-2"
        href="/studio/activity?{asked}">All of it</a
      >{/if}
  </details>
{/if}
