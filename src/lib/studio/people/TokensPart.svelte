<script lang="ts">
  import { momentWords } from '$lib/studio/base/site-clock';
  import { api } from '../base/api';
  import Button from '$lib/ui/Button.svelte';
  import Part from './Part.svelte';

  interface Token {
    id: string;
    name: string;
    scopes: string[];
    readOnly: boolean;
    ends: string;
    used: string | null;
  }
  let {
    tokens,
    groups,
    act,
  }: {
    tokens: Token[];
    groups: string[];
    act: (work: () => Promise<unknown>, words: string) => Promise<void>;
  } = $props();

  let asked = $state(false);
  let newToken = $state<{ name: string; token: string }>();
  let name = $state('');
  let scopes = $state<string[]>([]);
  let readOnly = $state(true);
  let days = $state(90);

  async function make(event: SubmitEvent) {
    event.preventDefault();
    await act(async () => {
      newToken = await api('POST /account/tokens', { body: { name, scopes, readOnly, days } });
      [asked, name, scopes] = [false, '', []];
    }, '');
  }
</script>

<Part
  title="Tokens"
  about="Lets a program ask the API as you, for some things, until a day. Its document: /api/v1/openapi.json"
>
  {#if newToken}
    <div class="mb-4 rounded-sm border border-hairline bg-paper p-4">
      <p class="font-medium">The token “{newToken.name}”, shown this once:</p>
      <p class="mt-2 rounded-sm bg-linen px-2 py-1 font-mono text-[13px] break-all" data-token>{newToken.token}</p>
      <p class="mt-3 flex gap-2">
        <Button onclick={() => void navigator.clipboard.writeText(newToken?.token ?? '')}>Copy it</Button>
        <Button tone="bare" onclick={() => (newToken = undefined)}>I have it</Button>
      </p>
    </div>
  {/if}
  {#if tokens.length}
    <ul class="mb-3 divide-y divide-hairline border-y border-hairline">
      {#each tokens as one (one.id)}
        <li class="flex items-baseline gap-4 py-1.5">
          <span class="shrink-0 font-medium">{one.name}</span>
          <span class="min-w-0 text-faded"
            >{one.readOnly ? 'reads' : 'reads and writes'}
            {one.scopes.join(', ')}; until {momentWords(one.ends)}; {one.used
              ? `last used ${momentWords(one.used)}`
              : 'not used yet'}</span
          >
          <span class="ml-auto shrink-0"
            ><Button
              aria-label="End the token {one.name}"
              onclick={() =>
                void act(
                  () => api('DELETE /account/tokens/{tokenId}', { tokenId: one.id }),
                  `“${one.name}” has ended.`,
                )}>End</Button
            ></span
          >
        </li>
      {/each}
    </ul>
  {/if}
  {#if asked}
    <form onsubmit={make} class="max-w-lg space-y-3">
      <label class="block"
        >Which program is it for?<input required maxlength="100" class="mt-1 block w-full" bind:value={name} /></label
      >
      <fieldset>
        <legend class="mb-1">What may it ask for?</legend>
        <div class="grid grid-cols-3 gap-y-1">
          {#each groups as group (group)}
            <label class="flex items-center gap-2"
              ><input type="checkbox" value={group} bind:group={scopes} />{group}</label
            >
          {/each}
        </div>
      </fieldset>
      <label class="flex items-center gap-2"><input type="checkbox" bind:checked={readOnly} />Only to read</label>
      <label class="flex items-center gap-2"
        >It holds for<input type="number" min="1" max="366" required class="w-20" bind:value={days} />days</label
      >
      <div class="flex gap-2">
        <Button tone="main" type="submit" disabled={!scopes.length}>Make it</Button>
        <Button tone="bare" onclick={() => (asked = false)}>Leave it</Button>
      </div>
    </form>
  {:else}
    <Button onclick={() => (asked = true)}>Make a token</Button>
  {/if}
</Part>
