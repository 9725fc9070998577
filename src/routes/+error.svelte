<script lang="ts">
  import { page } from '$app/state';
</script>

<svelte:head><title>{page.status} · Plum Thread</title></svelte:head>
<main style="font-family: system-ui, sans-serif; max-width: 40rem; margin: 4rem auto; padding: 0 1.5rem">
  <h1>{page.status === 404 ? 'There is nothing here' : 'This did not work'}</h1>
  <p>{page.error?.message}</p>
  {#if page.error?.requestId}<p>Its number in the logs: <code>{page.error.requestId}</code></p>{/if}
  <p><a href="/studio">To the desk</a></p>
</main>
