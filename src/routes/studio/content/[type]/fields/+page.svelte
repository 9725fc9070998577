<script lang="ts">
  import TypeForm from '$lib/studio/content/TypeForm.svelte';
  import TypeTabs from '$lib/studio/content/TypeTabs.svelte';

  let { data } = $props();
  // Brought back fields come with the model, and the form begins anew with them.
  const state = $derived(`${data.type.id} ${data.type.fields.map((field) => `${field.id}${field.kind}`).join()}`);
</script>

<svelte:head><title>Fields of {data.type.name} · Plum Thread</title></svelte:head>

<div class="shrink-0 px-8 pt-5">
  <div class="mx-auto max-w-6xl"><TypeTabs type={data.type} counts={data.counts} here="fields" /></div>
</div>
{#key state}<TypeForm model={data.model} type={data.type} fill={data.fill} />{/key}
