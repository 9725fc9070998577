<script lang="ts">
  import { renderSVG } from 'uqr';
  import { api } from '../base/api';
  import Button from '$lib/ui/Button.svelte';
  import Part from './Part.svelte';

  let {
    inUse,
    recovery,
    act,
  }: {
    inUse: boolean;
    recovery: number;
    act: (work: () => Promise<unknown>, words: string) => Promise<void>;
  } = $props();

  let begun = $state<{ pass: string; secret: string; address: string }>();
  let code = $state('');
  let codes = $state<string[]>([]);

  const begin = () =>
    act(async () => {
      codes = [];
      begun = await api('POST /account/codes/begin');
    }, '');
  const finish = (event: SubmitEvent) => {
    event.preventDefault();
    const pass = begun?.pass ?? '';
    begun = undefined;
    void act(async () => {
      codes = (await api('POST /account/codes', { body: { pass, code } })).recovery;
      code = '';
    }, 'From now on you are asked for a code after your password.');
  };
  const renew = () =>
    act(async () => {
      codes = (await api('POST /account/codes/recovery')).recovery;
    }, 'The recovery codes of before do nothing any more.');
  const picture = $derived(
    begun && `data:image/svg+xml,${encodeURIComponent(renderSVG(begun.address, { border: 1, blackColor: '#2b2129' }))}`,
  );
</script>

<Part
  title="Second step"
  about="After your password, a program on your phone shows a code that changes every half minute."
>
  {#if codes.length}
    <div class="mb-4 rounded-sm border border-hairline bg-paper p-4">
      <p class="font-medium">Keep these where you find them without your phone.</p>
      <p class="mt-0.5 text-[13px] text-faded">Each lets you in once. They are shown this once.</p>
      <ul class="mt-3 grid w-fit grid-cols-2 gap-x-8 gap-y-1 font-mono" aria-label="Recovery codes">
        {#each codes as one (one)}<li>{one}</li>{/each}
      </ul>
      <p class="mt-3 flex gap-2">
        <Button onclick={() => void navigator.clipboard.writeText(codes.join('\n'))}>Copy them</Button>
        <Button tone="bare" onclick={() => (codes = [])}>I have them</Button>
      </p>
    </div>
  {/if}
  {#if begun}
    <div class="flex gap-5">
      <img src={picture} alt="The secret as a square code, for the camera of your phone" class="size-40 shrink-0" />
      <form onsubmit={finish} class="space-y-3">
        <p>
          Take this into your program for codes, with the camera or by hand:
          <span class="mt-1 block font-mono text-[13px] break-all">{begun.secret.replace(/(.{4})/g, '$1 ').trim()}</span
          >
        </p>
        <label class="block"
          >The code that it shows<input
            required
            inputmode="numeric"
            autocomplete="one-time-code"
            maxlength="10"
            class="mt-1 block w-32 font-mono text-lg"
            bind:value={code}
          /></label
        >
        <div class="flex gap-2">
          <Button tone="main" type="submit">Take into use</Button>
          <Button tone="bare" onclick={() => (begun = undefined)}>Leave it</Button>
        </div>
      </form>
    </div>
  {:else if inUse}
    <p>
      In use. {recovery}
      {recovery === 1 ? 'recovery code is' : 'recovery codes are'} left.
    </p>
    <p class="mt-3 flex gap-2">
      <Button onclick={() => void renew()}>New recovery codes</Button>
      <Button onclick={() => void act(() => api('DELETE /account/codes'), 'No code is asked for any more.')}
        >Do without it</Button
      >
    </p>
  {:else}
    <Button onclick={() => void begin()}>Set it up</Button>
  {/if}
</Part>
