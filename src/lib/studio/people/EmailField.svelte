<script lang="ts">
  import type { Problem } from '$lib/core/base/result';

  let { value = '', problem }: { value?: string; problem?: Problem } = $props();
</script>

<label class="block"
  ><span class="font-medium">E-mail address</span><input
    type="email"
    name="email"
    required
    maxlength="254"
    autocomplete="username"
    {value}
    aria-invalid={problem ? 'true' : undefined}
    class="mt-1 block w-full"
  />
  {#if problem}<span class="mt-1 block text-[13px] text-madder">{problem.what}</span>{/if}</label
>
