<script lang="ts">
  import { page } from '$app/state';

  // It stands alone: no looks of the studio or of the site are sure to be there.
  const link = 'color: #5b2b4c; text-decoration: underline; text-underline-offset: 2px';
</script>

<svelte:head><title>{page.status} · Plum Thread</title></svelte:head>
<main
  style="font: 16px/1.5 system-ui, sans-serif; color: #2b2129; max-width: 36rem; margin: 5rem auto; padding: 0 1.5rem"
>
  <h1 style="font: 500 1.75rem/1.2 Georgia, serif; margin: 0 0 1rem">
    {page.status === 404 ? 'There is nothing here' : 'This did not work'}
  </h1>
  <p style="margin: 0 0 1rem">{page.error?.message}</p>
  {#if page.error?.requestId}
    <p style="margin: 0 0 1rem">Its number in the logs: <code>{page.error.requestId}</code></p>
  {/if}
  <p style="display: flex; gap: 1.5rem; margin: 0">
    {#if page.status >= 500}<a href={page.url.href} data-sveltekit-reload style={link}>Try again</a>{/if}
    <a href="/studio" data-sveltekit-reload style={link}>To the desk</a>
  </p>
</main>
