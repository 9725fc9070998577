<script lang="ts">
  import { keyOf } from '$lib/core/base/text';
  import { goto } from '$app/navigation';
  import { newId } from '$lib/core/base/ids';
  import { type RequestFailed } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';

  let { ondone }: { ondone?: () => void } = $props();
  let name = $state('');
  let tree = $state(true);
  let failed = $state('');

  async function make(event: SubmitEvent) {
    event.preventDefault();
    try {
      const taxonomy = await api('POST /taxonomies', {
        body: {
          id: newId('tax'),
          key: keyOf(name, 'taxonomy'),
          name,
          tree,
        },
      });
      ondone?.();
      await goto(`/studio/terms/${taxonomy.id}`, { invalidateAll: true });
    } catch (error) {
      const refused = error as RequestFailed;
      failed = refused.problems.map((p) => p.what).join(' ') || refused.message;
    }
  }
</script>

<form class="flex items-end gap-3" onsubmit={make}>
  <label><span class="dye-label block">Name</span><input class="w-56" placeholder="Region" bind:value={name} /></label>
  <label class="flex items-center gap-1.5 pb-1"
    ><input type="checkbox" bind:checked={tree} />terms may lie below terms</label
  >
  <Button tone="main" type="submit">Make it</Button>
</form>
{#if failed}<p class="mt-2 text-madder" role="alert">{failed}</p>{/if}
