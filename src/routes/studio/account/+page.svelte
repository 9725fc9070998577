<script lang="ts">
  import { momentWords } from '$lib/studio/site-clock';
  import { ROLE_WORDS } from '$lib/core/people/roles';
  import CodesPart from '$lib/studio/people/CodesPart.svelte';
  import Part from '$lib/studio/people/Part.svelte';
  import PasskeysPart from '$lib/studio/people/PasskeysPart.svelte';
  import PasswordField from '$lib/studio/people/PasswordField.svelte';
  import { Doing } from '$lib/studio/people/prove.svelte';
  import ProveSheet from '$lib/studio/people/ProveSheet.svelte';
  import TokensPart from '$lib/studio/people/TokensPart.svelte';
  import { send } from '$lib/studio/request';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  const doing = new Doing();
  const { act } = doing;
  let passwordAsked = $state(false);
  let current = $state('');
  let password = $state('');

  async function changeMe(event: SubmitEvent) {
    event.preventDefault();
    const form = new FormData(event.currentTarget as HTMLFormElement);
    const change = { name: form.get('name'), email: form.get('email') };
    await act(() => send('PATCH', '/api/v1/account', change), 'Kept.');
  }
  async function changePassword(event: SubmitEvent) {
    event.preventDefault();
    await act(async () => {
      await send('PUT', '/api/v1/account/password', { ...(data.account.has.password && { current }), password });
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

    <Part title="Password" about="Changing it signs you out everywhere else.">
      {#if passwordAsked}
        <form onsubmit={changePassword} class="max-w-sm space-y-3">
          {#if data.account.has.password}
            <PasswordField name="current" label="The one of now" problems={doing.problems} bind:value={current} />
          {/if}
          <PasswordField fresh label="The new one" problems={doing.problems} bind:value={password} />
          <div class="flex gap-2">
            <Button tone="main" type="submit">Change it</Button>
            <Button tone="bare" onclick={() => (passwordAsked = false)}>Leave it</Button>
          </div>
        </form>
      {:else}
        <Button onclick={() => (passwordAsked = true)}>{data.account.has.password ? 'Change it' : 'Set one'}</Button>
      {/if}
    </Part>

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
                    void act(() => send('DELETE', `/api/v1/account/sessions/${session.id}`), 'Signed out there.')}
                  >Sign out</Button
                >{/if}
            </span>
          </li>
        {/each}
      </ul>
      {#if data.sessions.length > 1}
        <p class="mt-3">
          <Button
            onclick={() => void act(() => send('DELETE', '/api/v1/account/sessions'), 'Signed out everywhere else.')}
            >Sign out everywhere else</Button
          >
        </p>
      {/if}
    </Part>

    <TokensPart tokens={data.tokens} groups={data.groups} {act} />
  </div>
</main>
<ProveSheet prove={doing.prove} password={data.account.has.password} />
