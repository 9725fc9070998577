<script lang="ts">
  import { failureWords } from '../base/request';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import PasswordField from './PasswordField.svelte';
  import type { Prove } from './prove.svelte';

  let { prove, password: has }: { prove: Prove; password: boolean } = $props();

  let password = $state('');
  let failed = $state('');

  async function confirm(event: SubmitEvent) {
    event.preventDefault();
    failed = '';
    try {
      await prove.confirm(password);
      password = '';
    } catch (failure) {
      failed = failureWords(failure);
    }
  }
</script>

<Sheet
  open={prove.waiting !== undefined}
  title="Is it you?"
  about="You signed in a while ago. What lets people in is changed only after you have shown that once more."
  onclose={() => prove.giveUp()}
>
  {#if has}
    <form onsubmit={confirm} class="space-y-4">
      <PasswordField name="current" label="Your password" bind:value={password} />
      {#if failed}<p role="alert" class="rounded-sm bg-ochre px-3 py-1.5">{failed}</p>{/if}
      <Button tone="main" type="submit">Go on</Button>
    </form>
  {:else}
    <p>You have no password. Sign out, sign in again with what you use, and come back within a quarter of an hour.</p>
  {/if}
</Sheet>
