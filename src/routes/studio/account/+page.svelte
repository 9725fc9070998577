<script lang="ts">
  import { momentWords } from '$lib/studio/base/site-clock';
  import { ROLE_WORDS } from '$lib/core/people/roles';
  import CodesPart from '$lib/studio/people/CodesPart.svelte';
  import Part from '$lib/studio/people/Part.svelte';
  import PasskeysPart from '$lib/studio/people/PasskeysPart.svelte';
  import PasswordField from '$lib/studio/people/PasswordField.svelte';
  import { Doing } from '$lib/studio/people/prove.svelte';
  import ProveSheet from '$lib/studio/people/ProveSheet.svelte';
  import TokensPart from '$lib/studio/people/TokensPart.svelte';
  import { RequestFailed } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  const doing = new Doing();
  const { act } = doing;
  let passwordAsked = $state(false);
  let current = $state('');
  let password = $state('');
  let keepTokens = $state(false);

  async function changeMe(event: SubmitEvent) {
    event.preventDefault();
    const form = new FormData(event.currentTarget as HTMLFormElement);
    const change = { name: String(form.get('name') ?? ''), email: String(form.get('email') ?? '') };
    let pending: string | undefined;
    await act(async () => {
      ({ pendingEmail: pending } = await api('PATCH /account', { body: change }));
    }, 'Saved.');
    if (pending)
      doing.said = `A letter with a link is on its way to ${pending}. Until you open it, you sign in with ${data.account.email}.`;
  }
  /** The way to the provider is no request of the API: the account is proved by one that is first. */
  async function joinProvider() {
    const proved = await doing.prove.through(async () => {
      const { fresh } = await api('GET /account');
      if (!fresh) throw new RequestFailed('Show once more that it is you.', 403, [], { confirm: true });
      return true;
    });
    if (proved) location.assign('/studio/sign-in/provider?join=1&to=/studio/account');
  }
  async function changePassword(event: SubmitEvent) {
    event.preventDefault();
    await act(async () => {
      await api('PUT /account/password', {
        body: {
          ...(data.account.has.password && { current }),
          password,
          keepTokens,
        },
      });
      current = password = '';
      passwordAsked = false;
    }, 'Your password is another one now. Everywhere else you are signed out.');
  }
</script>

<svelte:head><title>Your account · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto">
  <div class="mx-auto max-w-4xl px-8 py-5">
    <h1 class="text-3xl font-medium">Your account</h1>
    <p class="mt-1 mb-4 text-faded">
      {ROLE_WORDS[data.account.role].name}. {ROLE_WORDS[data.account.role].may}.
    </p>
    {#if doing.said}<p class="mb-3 rounded-sm bg-linen-deep px-3 py-1.5" role="status">{doing.said}</p>{/if}
    {#if doing.failed}<p class="mb-3 rounded-sm bg-ochre px-3 py-1.5" role="alert">{doing.failed}</p>{/if}

    <Part title="You" about="Your name stands in the activity; with your address you sign in.">
      <form onsubmit={changeMe} class="flex flex-wrap items-end gap-3">
        <label class="block"
          >Name<input name="name" required maxlength="160" value={data.account.name} class="mt-1 block w-56" /></label
        >
        <label class="block"
          >E-mail address<input
            type="email"
            name="email"
            required
            maxlength="254"
            value={data.account.email}
            class="mt-1 block w-64"
          /></label
        >
        <Button type="submit">Keep</Button>
      </form>
    </Part>

    <Part
      title="Password"
      about="Changing it signs you out everywhere else, and ends your tokens for programs unless they are to stay."
    >
      {#if passwordAsked}
        <form onsubmit={changePassword} class="max-w-sm space-y-3">
          {#if data.account.has.password}
            <PasswordField name="current" label="The one of now" problems={doing.problems} bind:value={current} />
          {/if}
          <PasswordField fresh label="The new one" problems={doing.problems} bind:value={password} />
          {#if data.tokens.length}
            <label class="flex items-baseline gap-2"
              ><input type="checkbox" bind:checked={keepTokens} /><span>My tokens for programs stay as they are</span
              ></label
            >
          {/if}
          <div class="flex gap-2">
            <Button tone="main" type="submit">Change it</Button>
            <Button tone="bare" onclick={() => (passwordAsked = false)}>Leave it</Button>
          </div>
        </form>
      {:else}
        <Button onclick={() => (passwordAsked = true)}>{data.account.has.password ? 'Change it' : 'Set one'}</Button>
      {/if}
    </Part>

    {#if data.provider}
      <Part title="Your organisation" about="Its identity provider signs you in, without a password of its own here.">
        {#if data.account.has.provider}<p>{data.provider} signs you in to this account.</p>
        {:else}
          <!-- Whether it was proved lately who asks is asked first, here, where it can be proved. -->
          <Button onclick={() => void joinProvider()}>Join my account to {data.provider}</Button>
        {/if}
      </Part>
    {/if}
    <PasskeysPart passkeys={data.passkeys} {act} />
    <CodesPart inUse={data.account.has.code} recovery={data.recovery} {act} />

    <Part title="Signed in" about="A session ends by itself when nothing is done for a while.">
      <ul class="divide-y divide-hairline border-y border-hairline">
        {#each data.sessions as session (session.id)}
          <li class="flex items-baseline gap-4 py-1.5">
            <span class="font-medium">{session.browser}</span>
            <span class="text-faded">{session.address}, last seen {momentWords(session.seen)}</span>
            <span class="ml-auto">
              {#if session.own}<span class="text-faded">This one</span>
              {:else}<Button
                  aria-label="Sign out {session.browser}, last seen {momentWords(session.seen)}"
                  onclick={() =>
                    void act(
                      () => api('DELETE /account/sessions/{sessionId}', { sessionId: session.id }),
                      'Signed out there.',
                    )}>Sign out</Button
                >{/if}
            </span>
          </li>
        {/each}
      </ul>
      {#if data.sessions.length > 1}
        <p class="mt-3">
          <Button onclick={() => void act(() => api('DELETE /account/sessions'), 'Signed out everywhere else.')}
            >Sign out everywhere else</Button
          >
        </p>
      {/if}
    </Part>

    <TokensPart tokens={data.tokens} groups={data.groups} {act} />
  </div>
</main>
<ProveSheet prove={doing.prove} password={data.account.has.password} />
