<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import type { ContentType } from '$lib/core/schema/model';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import { offerUndo } from '$lib/studio/base/undo.svelte';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';

  let { open = $bindable(false), type, generated }: { open?: boolean; type: ContentType; generated: number } = $props();

  let count = $state(20);
  let status: 'draft' | 'published' = $state('published');
  let working = $state(false);
  let failed = $state('');

  async function make(event: SubmitEvent) {
    event.preventDefault();
    working = true;
    failed = '';
    try {
      await api('POST /types/{typeId}/generate', { typeId: type.id, body: { count, status } });
      open = false;
      await invalidateAll();
    } catch (error) {
      failed = failureWords(error);
    }
    working = false;
  }
  async function remove() {
    working = true;
    failed = '';
    try {
      const { removal, deleted } = await api('DELETE /types/{typeId}/generate', { typeId: type.id });
      offerUndo(removal, `${deleted} made-up ${type.plural.toLowerCase()} removed.`);
      open = false;
      await invalidateAll();
    } catch (error) {
      failed = (error as Error).message;
    }
    working = false;
  }
</script>

<Sheet
  bind:open
  title="Make {type.plural.toLowerCase()} up"
  about="Plausible records with values in most of their fields, to judge a template by before the real ones come. They are marked as made up."
>
  <form class="flex items-end gap-3" onsubmit={make}>
    <label
      ><span class="dye-label block">How many</span><input
        type="number"
        min="1"
        max="5000"
        class="w-24"
        bind:value={count}
      /></label
    >
    <label
      ><span class="dye-label block">As</span><select bind:value={status}
        ><option value="published">published</option><option value="draft">drafts</option></select
      ></label
    >
    <Button tone="main" type="submit" disabled={working}>{working ? 'Working' : 'Make them'}</Button>
  </form>
  {#if generated}
    <p class="mt-4 border-t border-hairline pt-3">
      {generated.toLocaleString('en')} made-up {generated === 1 ? type.name.toLowerCase() : type.plural.toLowerCase()} here
      now.
      <Button class="ml-2" disabled={working} onclick={remove}>Remove them all</Button>
    </p>
  {/if}
  {#if failed}<p class="mt-3 text-madder" role="alert">{failed}</p>{/if}
</Sheet>
