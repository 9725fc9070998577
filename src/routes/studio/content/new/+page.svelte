<script lang="ts">
  import TypeForm from '$lib/studio/content/TypeForm.svelte';

  let { data } = $props();
</script>

<svelte:head><title>New content type · Plum Thread</title></svelte:head>

<h1 class="shrink-0 px-8 pt-5 text-2xl font-medium">New content type</h1>
<TypeForm model={data.model} />
