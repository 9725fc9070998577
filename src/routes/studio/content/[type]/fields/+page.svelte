<script lang="ts">
  import ActivityBeside from '$lib/studio/people/ActivityBeside.svelte';
  import { Coming } from '$lib/studio/base/coming.svelte';
  import TypeForm from '$lib/studio/content/TypeForm.svelte';
  import Waiting from '$lib/studio/release/Waiting.svelte';
  import TypeTabs from '$lib/studio/content/TypeTabs.svelte';

  let { data } = $props();
  /** How many records have a value in each field; fields are changed meanwhile. */
  const fill = new Coming(() => data.fill);
  // Brought back fields come with the model, and the form begins anew with them.
  const shape = $derived(`${data.type.id} ${data.type.fields.map((field) => `${field.id}${field.kind}`).join()}`);
  let said = $state('');
  const typeId = $derived(data.type.id);
  $effect(() => {
    void typeId;
    said = '';
  });
</script>

<svelte:head><title>Fields of {data.type.name} · Plum Thread</title></svelte:head>

<main class="flex min-h-0 grow flex-col">
  <div class="shrink-0 px-8 pt-5">
    <div class="mx-auto max-w-6xl"><TypeTabs type={data.type} counts={data.counts} here="fields" /></div>
    <div class="mx-auto max-w-6xl"><Waiting waiting={data.waiting} /></div>
    <div class="mx-auto mt-2 max-w-6xl">
      <ActivityBeside subject="type {data.type.id}" />
    </div>
  </div>
  {#key shape}<TypeForm
      model={data.model}
      type={data.type}
      fill={fill.failed ? { total: 0, fields: {} } : fill.now}
      seen={data.seen}
      bind:said
    />{/key}
</main>
