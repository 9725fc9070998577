<script lang="ts">
  import RecordForm from '$lib/studio/content/RecordForm.svelte';

  let { data } = $props();
</script>

<svelte:head><title>{data.record?.title ?? `New ${data.type.name.toLowerCase()}`} · Plum Thread</title></svelte:head>

<main class="flex min-h-0 grow flex-col">
  <div class="flex shrink-0 items-baseline gap-3 border-b border-hairline px-8 py-2">
    <a class="text-plum underline underline-offset-2" href="/studio/content/{data.type.id}">{data.type.plural}</a>
    <h1 class="truncate text-lg font-medium">{data.record?.title ?? `New ${data.type.name.toLowerCase()}`}</h1>
  </div>
  {#key data.record?.id}<RecordForm
      model={data.model}
      type={data.type}
      record={data.record}
      editable={data.editable}
      sharing={data.sharing}
      addressed={data.addressed}
      onSite={data.onSite}
    />{/key}
</main>
