<script lang="ts">
  import TypeForm from '$lib/studio/content/TypeForm.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Fields of {data.type.name} · Plum Thread</title></svelte:head>

<div class="flex shrink-0 items-baseline gap-3 px-8 pt-5">
  <h1 class="text-2xl font-medium">{data.type.name}</h1>
  <a class="text-plum underline underline-offset-2" href="/studio/content/{data.type.id}">Its records</a>
</div>
{#key data.type.id}<TypeForm model={data.model} type={data.type} />{/key}
