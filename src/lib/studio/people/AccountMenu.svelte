<script lang="ts">
  import { DropdownMenu } from 'bits-ui';
  import { ROLE_WORDS, type Role } from '$lib/core/people/roles';

  let { name, role }: { name: string; role: Role } = $props();

  const first = $derived(name.split(' ')[0]);
  let out: HTMLFormElement;
</script>

<form method="POST" action="/studio/sign-out" bind:this={out}></form>
<DropdownMenu.Root>
  <DropdownMenu.Trigger
    class="flex h-full items-center gap-1.5 px-2 whitespace-nowrap hover:bg-plum-deep focus-visible:outline-paper"
    aria-label="Your account: {name}">{first}<span aria-hidden="true" class="text-[10px]">▾</span></DropdownMenu.Trigger
  >
  <DropdownMenu.Portal>
    <DropdownMenu.Content
      align="end"
      sideOffset={2}
      class="z-50 min-w-52 rounded-sm border border-hairline bg-paper py-1 shadow-sm"
    >
      <div class="border-b border-hairline px-3 pt-1 pb-2">
        <p class="font-medium">{name}</p>
        <p class="text-[13px] text-faded">{ROLE_WORDS[role].name}</p>
      </div>
      <DropdownMenu.Item class="data-highlighted:bg-linen-deep">
        {#snippet child({ props })}<a
            {...props}
            href="/studio/account"
            class="block px-3 py-1.5 data-highlighted:bg-linen-deep">Your account</a
          >{/snippet}
      </DropdownMenu.Item>
      <DropdownMenu.Item
        class="cursor-pointer px-3 py-1.5 data-highlighted:bg-linen-deep"
        onSelect={() => out.requestSubmit()}>Sign out</DropdownMenu.Item
      >
    </DropdownMenu.Content>
  </DropdownMenu.Portal>
</DropdownMenu.Root>
