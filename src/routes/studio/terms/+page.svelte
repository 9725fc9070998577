<script lang="ts">
  import { may } from '$lib/studio/people/me';
  import NewTaxonomy from '$lib/studio/terms/NewTaxonomy.svelte';
</script>

<svelte:head><title>Terms · Plum Thread</title></svelte:head>

<main class="mx-auto max-w-3xl px-8 py-10">
  <h1 class="text-3xl font-medium">No taxonomies yet</h1>
  <p class="mt-1 mb-5 text-faded">
    A taxonomy is a scheme of terms to file records under: regions as a tree, or plain topics.
  </p>
  {#if may('createTaxonomy')}<NewTaxonomy />{:else}<p>A designer makes them.</p>{/if}
</main>
