<script lang="ts">
  import { dayWords } from '$lib/studio/base/site-clock';
  import { ROLE_WORDS, ROLES, type Role } from '$lib/core/people/roles';
  import Part from '$lib/studio/people/Part.svelte';
  import PersonRow from '$lib/studio/people/PersonRow.svelte';
  import { Doing } from '$lib/studio/people/prove.svelte';
  import ProveSheet from '$lib/studio/people/ProveSheet.svelte';
  import ProviderPart from '$lib/studio/people/ProviderPart.svelte';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  const doing = new Doing();
  const { act } = doing;
  const own = $derived(data.people.find(({ id }) => id === data.me.id));
  let link = $state<{ name: string; address: string }>();
  let asked = $state(false);
  let name = $state('');
  let email = $state('');
  let role = $state<Role>('author');

  interface Sent {
    link?: string;
    mailed: boolean;
  }
  const tell = (to: string, sent: Sent) => {
    link = sent.link ? { name: to, address: sent.link } : undefined;
  };
  async function invite(event: SubmitEvent) {
    event.preventDefault();
    const to = name;
    await act(async () => {
      tell(to, await api('POST /people', { body: { name, email, role } }));
      [asked, name, email] = [false, '', ''];
    }, `${to} is invited.`);
  }
  const sendLink = (id: number, to: string) =>
    act(
      async () => tell(to, await api('POST /people/{accountId}/link', { accountId: id })),
      `A link for ${to} is ready.`,
    );
</script>

<svelte:head><title>People · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto">
  <div class="mx-auto max-w-6xl px-8 py-5">
    <div class="flex items-baseline gap-4">
      <h1 class="text-3xl font-medium">People</h1>
      <span class="text-faded">{data.people.length} {data.people.length === 1 ? 'account' : 'accounts'}</span>
      <span class="ml-auto">
        {#if !asked}<Button tone="main" onclick={() => (asked = true)}>Invite somebody</Button>{/if}
      </span>
    </div>
    {#if asked}
      <form
        onsubmit={invite}
        class="mt-4 flex flex-wrap items-end gap-3 rounded-sm border border-hairline bg-paper p-4"
      >
        <label class="block">Name<input required maxlength="160" class="mt-1 block w-48" bind:value={name} /></label>
        <label class="block"
          >E-mail address<input
            type="email"
            required
            maxlength="254"
            class="mt-1 block w-60"
            bind:value={email}
          /></label
        >
        <label class="block"
          >Role<select class="mt-1 block" bind:value={role}>
            {#each ROLES as one (one)}<option value={one}>{ROLE_WORDS[one].name}</option>{/each}
          </select></label
        >
        <Button tone="main" type="submit">Invite</Button>
        <Button tone="bare" onclick={() => (asked = false)}>Leave it</Button>
        <p class="w-full text-[13px] text-faded">
          {ROLE_WORDS[role].may}. {data.mails
            ? 'A letter with a link is sent.'
            : 'There is no mail server, so you get a link to hand on.'}
        </p>
      </form>
    {/if}
    {#if doing.said}<p class="mt-3 rounded-sm bg-linen-deep px-3 py-1.5" role="status">{doing.said}</p>{/if}
    {#if doing.failed}<p class="mt-3 rounded-sm bg-ochre px-3 py-1.5" role="alert">{doing.failed}</p>{/if}
    {#if link}
      <div class="mt-3 rounded-sm border border-hairline bg-paper px-4 py-3">
        <p class="font-medium">Hand this to {link.name}; it is good once, and shown this once:</p>
        <p class="mt-1 rounded-sm bg-linen px-2 py-1 font-mono text-[13px] break-all" data-link>{link.address}</p>
        <p class="mt-2 flex gap-2">
          <Button onclick={() => void navigator.clipboard.writeText(link?.address ?? '')}>Copy it</Button>
          <Button tone="bare" onclick={() => (link = undefined)}>Done</Button>
        </p>
      </div>
    {/if}

    <table class="mt-4 w-full border-collapse border border-hairline bg-paper text-left">
      <thead>
        <tr class="dye-label bg-linen-deep">
          <th class="px-3 py-1.5 font-semibold">Name</th>
          <th class="px-3 py-1.5 font-semibold">Signs in with</th>
          <th class="px-3 py-1.5 font-semibold">Role</th>
          <th class="px-3 py-1.5 font-semibold">Since</th>
          <th class="px-3 py-1.5"><span class="sr-only">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        {#each data.people as person (person.id)}
          <PersonRow {person} own={person.id === data.me.id} {act} {sendLink} />
        {/each}
      </tbody>
    </table>

    <div class="mt-6">
      <ProviderPart name={data.provider} rules={data.rules} {act} />
      <Part title="Tokens" about="What lets programs ask as somebody. Each makes their own in their account.">
        {#if data.tokens.length}
          <ul class="divide-y divide-hairline border-y border-hairline">
            {#each data.tokens as token (token.id)}
              <li class="flex items-baseline gap-4 py-1.5">
                <span class="font-medium">{token.name}</span>
                <span class="text-faded"
                  >{data.people.find(({ id }) => id === token.accountId)?.name ?? 'Somebody'}; {token.readOnly
                    ? 'reads'
                    : 'reads and writes'}
                  {token.scopes.join(', ')}; until {dayWords(token.ends)}</span
                >
                <span class="ml-auto"
                  ><Button
                    aria-label="End the token {token.name}"
                    onclick={() =>
                      void act(
                        () => api('DELETE /people/tokens/{tokenId}', { tokenId: token.id }),
                        `“${token.name}” has ended.`,
                      )}>End</Button
                  ></span
                >
              </li>
            {/each}
          </ul>
        {:else}
          <p class="text-faded">Nobody has one.</p>
        {/if}
      </Part>
    </div>
  </div>
</main>
<ProveSheet prove={doing.prove} password={own?.has.password ?? false} />
