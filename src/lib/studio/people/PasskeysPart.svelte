<script lang="ts">
  import { momentWords } from '$lib/studio/base/site-clock';
  import { startRegistration } from '@simplewebauthn/browser';
  import { api } from '../base/api';
  import Button from '$lib/ui/Button.svelte';
  import Part from './Part.svelte';

  let {
    passkeys,
    act,
  }: {
    passkeys: { id: string; name: string; created: string; used: string | null }[];
    act: (work: () => Promise<unknown>, words: string) => Promise<void>;
  } = $props();

  let name = $state('');

  async function make(event: SubmitEvent) {
    event.preventDefault();
    await act(async () => {
      const { options, pass } = await api('POST /account/passkeys/begin');
      const response = await startRegistration({ optionsJSON: options }).catch((failure: Error) => {
        throw new Error(
          failure.name === 'InvalidStateError'
            ? 'This device has a passkey of your account already.'
            : failure.name === 'SecurityError'
              ? 'Browsers make no passkeys for this address. Open the studio by a name, with https or as localhost.'
              : 'No passkey was made. Try again.',
          { cause: failure },
        );
      });
      await api('POST /account/passkeys', { body: { pass, name: name.trim() || 'Passkey', response } });
      name = '';
    }, 'The passkey is kept. You can sign in with it from now on.');
  }
</script>

<Part
  title="Passkeys"
  about="Signs you in by your device, your finger or a key, with nothing to type and nothing to steal."
>
  {#if passkeys.length}
    <ul class="mb-3 divide-y divide-hairline border-y border-hairline">
      {#each passkeys as one (one.id)}
        <li class="flex items-baseline gap-4 py-1.5">
          <span class="font-medium">{one.name}</span>
          <span class="text-faded"
            >made {momentWords(one.created)}, {one.used ? `last used ${momentWords(one.used)}` : 'not used yet'}</span
          >
          <span class="ml-auto"
            ><Button
              aria-label="Take the passkey {one.name} away"
              onclick={() =>
                void act(
                  () => api('DELETE /account/passkeys/{passkeyId}', { passkeyId: one.id }),
                  `“${one.name}” lets nobody in any more.`,
                )}>Take away</Button
            ></span
          >
        </li>
      {/each}
    </ul>
  {/if}
  <form onsubmit={make} class="flex items-end gap-2">
    <label class="block"
      >Its name<input maxlength="100" placeholder="My laptop" class="mt-1 block w-56" bind:value={name} /></label
    >
    <Button type="submit">Make a passkey</Button>
  </form>
</Part>
