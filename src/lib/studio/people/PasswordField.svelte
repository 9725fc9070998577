<script lang="ts">
  import type { Problem } from '$lib/core/base/result';
  import { PASSWORD_LENGTH } from '$lib/core/people/passwords';

  let {
    name = 'password',
    label = 'Password',
    fresh = false,
    problems = [],
    value = $bindable(''),
  }: { name?: string; label?: string; fresh?: boolean; problems?: Problem[]; value?: string } = $props();

  const id = $props.id();
  let seen = $state(false);
  const wrong = $derived(problems.find((one) => one.at === name));
</script>

<div>
  <label for={id} class="block font-medium">{label}</label>
  <div class="mt-1 flex gap-1.5">
    <input
      {id}
      {name}
      type={seen ? 'text' : 'password'}
      autocomplete={fresh ? 'new-password' : 'current-password'}
      required
      maxlength="1000"
      class="grow"
      aria-invalid={wrong ? 'true' : undefined}
      aria-describedby="{id}-words"
      bind:value
    />
    <button
      type="button"
      class="rounded-sm border border-hairline px-2 hover:border-faded"
      aria-pressed={seen}
      aria-label="{seen ? 'Hide' : 'Show'} the password"
      onclick={() => (seen = !seen)}>{seen ? 'Hide' : 'Show'}</button
    >
  </div>
  <p id="{id}-words" class="mt-1 text-[13px] {wrong ? 'text-madder' : 'text-faded'}">
    {#if wrong}{wrong.what} {wrong.fix ?? ''}
    {:else if fresh}{PASSWORD_LENGTH.least} to {PASSWORD_LENGTH.most} characters of any kind; several words do well.{/if}
  </p>
</div>
