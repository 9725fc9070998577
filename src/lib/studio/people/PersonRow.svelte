<script lang="ts">
  import { dayWords } from '$lib/studio/base/site-clock';
  import { DropdownMenu } from 'bits-ui';
  import { ROLE_WORDS, ROLES, type Role } from '$lib/core/people/roles';
  import type { InputOf, ResponseOf } from '$lib/client/api';
  import { api } from '../base/api';

  type Person = ResponseOf<'GET /people'>[number];
  let {
    person,
    own,
    act,
    sendLink,
  }: {
    person: Person;
    own: boolean;
    act: (work: () => Promise<unknown>, words: string) => Promise<void>;
    sendLink: (id: number, name: string) => Promise<void>;
  } = $props();

  const accountId = $derived(person.id);
  const ways = $derived(
    [person.has.password && 'password', person.has.code && 'code', person.has.provider && 'identity provider']
      .filter(Boolean)
      .join(', ') || 'invited, not here yet',
  );
  const item = 'cursor-pointer px-3 py-1.5 data-highlighted:bg-linen-deep';
  const change = (body: InputOf<'PATCH /people/{accountId}'>['body'], words: string) =>
    act(() => api('PATCH /people/{accountId}', { accountId, body }), words);
</script>

<tr class="border-t border-hairline {person.closed ? 'text-faded' : ''}">
  <td class="px-3 py-1.5"
    ><span class="font-medium">{person.name}</span>{#if own}<span class="ml-2 text-faded">you</span
      >{/if}{#if person.closed}<span class="ml-2 rounded-sm border border-hairline px-1 text-[12px]">closed</span
      >{/if}</td
  >
  <td class="px-3 py-1.5">{person.email}<span class="ml-2 text-faded">{ways}</span></td>
  <td class="px-3 py-1.5 whitespace-nowrap">
    <select
      aria-label="Role of {person.name}"
      value={person.role}
      onchange={(event) => {
        const select = event.currentTarget;
        const role = select.value as Role;
        void change({ role }, `${person.name} is ${ROLE_WORDS[role].name.toLowerCase()} now.`).finally(
          () => (select.value = person.role),
        );
      }}
    >
      {#each ROLES as one (one)}<option value={one}>{ROLE_WORDS[one].name}</option>{/each}
    </select>
    {#if person.role === 'author'}
      <label class="ml-2 inline-flex items-center gap-1.5"
        ><input
          type="checkbox"
          checked={person.mayPublish}
          onchange={(event) => {
            const box = event.currentTarget;
            const mayPublish = box.checked;
            void change(
              { mayPublish },
              mayPublish ? `${person.name} publishes without asking.` : `${person.name} proposes for publishing.`,
            ).finally(() => (box.checked = person.mayPublish));
          }}
        />publishes</label
      >
    {/if}
  </td>
  <td class="px-3 py-1.5 whitespace-nowrap text-faded">{dayWords(person.created)}</td>
  <td class="px-3 py-1.5 text-right">
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        class="inline-flex h-7 items-center gap-1.5 rounded-sm border border-hairline px-2.5 font-medium hover:border-faded"
        aria-label="What can be done with the account of {person.name}"
        >More <span aria-hidden="true" class="text-[10px]">▾</span></DropdownMenu.Trigger
      >
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={2}
          class="z-50 min-w-56 rounded-sm border border-hairline bg-paper py-1 shadow-sm"
        >
          <DropdownMenu.Item class={item} onSelect={() => void sendLink(person.id, person.name)}
            >{person.has.password ? 'Send a link for a new password' : 'Invite once more'}</DropdownMenu.Item
          >
          <DropdownMenu.Item
            class={item}
            onSelect={() =>
              void act(
                () => api('DELETE /people/{accountId}/sessions', { accountId }),
                `${person.name} is signed out everywhere.`,
              )}>Sign out everywhere</DropdownMenu.Item
          >
          {#if person.has.code}
            <DropdownMenu.Item
              class={item}
              onSelect={() =>
                void act(
                  () => api('DELETE /people/{accountId}/codes', { accountId }),
                  `${person.name} is asked for no code.`,
                )}>End the second step</DropdownMenu.Item
            >
          {/if}
          {#if !own}
            <DropdownMenu.Item
              class={item}
              onSelect={() =>
                void change(
                  { closed: !person.closed },
                  person.closed ? `${person.name} may sign in again.` : `${person.name} may not sign in any more.`,
                )}>{person.closed ? 'Open the account' : 'Close the account'}</DropdownMenu.Item
            >
            <DropdownMenu.Item
              class={item}
              onSelect={() =>
                void act(
                  () => api('DELETE /people/{accountId}', { accountId }),
                  `${person.name} has no account any more.`,
                )}>Take the account away</DropdownMenu.Item
            >
          {/if}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  </td>
</tr>
