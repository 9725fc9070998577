<script lang="ts">
  import { failureWords, RequestFailed } from './request';

  /** What went wrong where no place of its own tells of it: nothing that was asked for fails in silence. */
  let said = $state('');

  function tell(failure: unknown) {
    // What was broken off by whoever asked for it has not failed.
    if (!(failure instanceof Error) || failure.name === 'AbortError') return;
    said = failure instanceof RequestFailed ? failureWords(failure) : `This did not work: ${failure.message}.`;
  }
</script>

<svelte:window
  onunhandledrejection={(event) => tell(event.reason)}
  onerror={(event) => event instanceof ErrorEvent && tell(event.error)}
/>

{#if said}
  <div
    role="alert"
    class="fixed bottom-4 left-1/2 z-50 flex max-w-2xl -translate-x-1/2 items-start gap-3 rounded-md bg-ochre px-4 py-2"
  >
    <span class="min-w-0 break-words">{said}</span>
    <button type="button" class="px-1" aria-label="Close what is said" onclick={() => (said = '')}>×</button>
  </div>
{/if}
