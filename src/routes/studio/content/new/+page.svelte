<script lang="ts">
  import TypeForm from '$lib/studio/content/TypeForm.svelte';

  let { data } = $props();
</script>

<svelte:head><title>New content type · Plum Thread</title></svelte:head>

<main class="flex min-h-0 grow flex-col">
  <div class="shrink-0 px-8 pt-5"><h1 class="mx-auto max-w-6xl text-2xl font-medium">New content type</h1></div>
  <TypeForm model={data.model} />
</main>
