<script lang="ts">
  import '../../../app.css';
  import { browserSupportsWebAuthn, startAuthentication } from '@simplewebauthn/browser';
  import { onMount } from 'svelte';
  import { ROLE_WORDS } from '$lib/core/people/roles';
  import EmailField from '$lib/studio/people/EmailField.svelte';
  import Gate from '$lib/studio/people/Gate.svelte';
  import PasswordField from '$lib/studio/people/PasswordField.svelte';
  import { failureWords, send } from '$lib/studio/base/request';
  import Button from '$lib/ui/Button.svelte';

  let { data, form } = $props();

  let passkeys = $state(false);
  let refused = $state('');
  let forgotten = $state(false);
  let recovery = $state(false);
  onMount(() => {
    // Browsers make no passkeys for sites that are named by a number.
    passkeys = browserSupportsWebAuthn() && !/^[\d.]+$|^\[/.test(location.hostname);
  });
  const given = $derived((form as { email?: string } | null)?.email ?? '');
  const to = $derived(`to=${encodeURIComponent(data.to)}`);

  async function withPasskey() {
    refused = '';
    try {
      const optionsJSON = await send<Parameters<typeof startAuthentication>[0]['optionsJSON']>(
        'POST',
        '/studio/sign-in/passkey',
      );
      await send('PUT', '/studio/sign-in/passkey', await startAuthentication({ optionsJSON }));
      location.assign(data.to);
    } catch (failure) {
      refused =
        failure instanceof Error && failure.name === 'NotAllowedError'
          ? 'No passkey was given. Try again, or use your password.'
          : failureWords(failure);
    }
  }
</script>

{#snippet told()}
  {#if refused || form?.refused}
    <p role="alert" class="mt-3 rounded-sm bg-ochre px-3 py-2">{refused || form?.refused}</p>
  {/if}
{/snippet}

{#if data.second}
  <Gate title="One more step">
    {@render told()}
    <form method="POST" action="?/code&{to}" class="mt-4 space-y-4">
      <label class="block">
        <span class="font-medium">{recovery ? 'A recovery code' : 'The code that your program shows'}</span>
        <!-- svelte-ignore a11y_autofocus -->
        <input
          name="code"
          required
          autofocus
          autocomplete="one-time-code"
          inputmode={recovery ? 'text' : 'numeric'}
          maxlength="40"
          class="mt-1 block w-full font-mono text-lg tracking-wide"
        />
      </label>
      <div class="flex items-center justify-between">
        <Button tone="main" type="submit">Sign in</Button>
        <button type="button" class="text-plum underline underline-offset-2" onclick={() => (recovery = !recovery)}
          >{recovery ? 'Use the program' : 'Use a recovery code'}</button
        >
      </div>
    </form>
    <form method="POST" action="?/restart&{to}" class="mt-4">
      <button class="text-faded underline underline-offset-2">Begin again as somebody else</button>
    </form>
  </Gate>
{:else if forgotten}
  <Gate title="A new password">
    {@render told()}
    {#if form?.sent}
      <p role="status" class="mt-3 rounded-sm bg-linen-deep px-3 py-2">
        If somebody signs in with {form.sent}, a letter with a link is on its way. The link holds for an hour.
      </p>
    {/if}
    {#if data.mails}
      <form method="POST" action="?/forgotten&{to}" class="mt-4 space-y-4">
        <EmailField value={given} />
        <Button tone="main" type="submit">Send a link</Button>
      </form>
    {:else}
      <p class="mt-3">Ask an owner for a link with which you choose another one.</p>
    {/if}
    <p class="mt-4">
      <button class="text-plum underline underline-offset-2" onclick={() => (forgotten = false)}
        >Back to signing in</button
      >
    </p>
  </Gate>
{:else}
  <Gate title="Sign in">
    {@render told()}
    {#if form?.sent}
      <p role="status" class="mt-3 rounded-sm bg-linen-deep px-3 py-2">
        If somebody signs in with {form.sent}, a letter with a link is on its way. The link holds for an hour.
      </p>
    {/if}
    {#if data.joined && data.provider}
      <p role="status" class="mt-3 rounded-sm bg-linen-deep px-3 py-2">
        Your account is joined: sign in by {data.provider} from now on.
      </p>
    {/if}
    {#if data.joining}
      <p role="status" class="mt-3 rounded-sm bg-linen-deep px-3 py-2">
        There is an account with {data.joining} already. A letter with a link is on its way to that address: open it, and
        the provider signs you in to that account from then on.
      </p>
    {/if}
    <form method="POST" action="?/password&{to}" class="mt-4 space-y-3">
      <EmailField value={given} />
      <PasswordField />
      <div class="flex items-center justify-between">
        <Button tone="main" type="submit">Sign in</Button>
        <button type="button" class="text-plum underline underline-offset-2" onclick={() => (forgotten = true)}
          >Forgotten it?</button
        >
      </div>
    </form>
    {#if passkeys || data.provider}
      <div class="mt-5 flex flex-wrap gap-2 border-t border-hairline pt-4">
        {#if passkeys}<Button onclick={() => void withPasskey()}>Use a passkey</Button>{/if}
        {#if data.provider}
          <a
            href="/studio/sign-in/provider?{to}"
            data-sveltekit-reload
            class="inline-flex h-7 items-center rounded-sm border border-hairline px-2.5 font-medium hover:border-faded"
            >Sign in by {data.provider}</a
          >
        {/if}
      </div>
    {/if}
    {#if data.people.length}
      <section class="mt-6 border-t border-hairline pt-4" aria-labelledby="demo-people">
        <h2 id="demo-people" class="font-sans text-[14px] font-medium">This is a demo: come in as</h2>
        <form method="POST" action="?/demo&{to}" class="mt-2 divide-y divide-hairline border-y border-hairline">
          {#each data.people as one (one.id)}
            <button
              name="account"
              value={one.id}
              class="flex w-full items-baseline justify-between px-1 py-1.5 text-left hover:bg-linen"
              ><span class="font-medium">{one.name}</span><span class="text-faded">{ROLE_WORDS[one.role].name}</span
              ></button
            >
          {/each}
        </form>
        <p class="mt-2 text-[13px] text-faded">
          Their password is “soup at seven”. Only a demo lists people, or lets them in like this.
        </p>
      </section>
    {/if}
  </Gate>
{/if}
