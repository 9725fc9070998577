<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import Button from '$lib/ui/Button.svelte';
  import { failureWords } from '../base/request';
  import { api } from '../base/api';
  import { may, me } from './me';

  export interface Sharing {
    maker: { id: number; name: string } | null;
    shared: { id: number; name: string }[];
    proposed: string | null;
  }
  /** Whose a record is, with whom it is shared, and whether it waits to be published. */
  let {
    recordId,
    status,
    sharing,
    editable,
  }: { recordId: number; status: string; sharing: Sharing; editable: boolean } = $props();

  let said = $state('');
  let names = $state<{ id: number; name: string; role: string }[]>();
  const authors = $derived((names ?? []).filter(({ id, role }) => role === 'author' && id !== sharing.maker?.id));
  const proposes = $derived(me()?.role === 'author' && !me()?.mayPublish);

  async function act(work: () => Promise<unknown>) {
    said = '';
    try {
      await work();
      await invalidateAll();
    } catch (failure) {
      said = failureWords(failure);
    }
  }
  const propose = (proposed: boolean) =>
    act(() => api('PUT /records/{recordId}/proposal', { recordId, body: { proposed } }));
  const share = (id: number, on: boolean) =>
    act(() => {
      const others = sharing.shared.map((one) => one.id).filter((one) => one !== id);
      return api('PUT /records/{recordId}/people', { recordId, body: { accounts: on ? [...others, id] : others } });
    });
  async function look() {
    said = '';
    try {
      names = await api('GET /people/names');
    } catch (failure) {
      said = failureWords(failure);
    }
  }
</script>

{#if status === 'draft' && sharing.proposed}
  <p class="rounded-sm bg-ochre px-2 py-1">
    {sharing.maker?.name ?? 'Somebody'} proposes this for publishing.
    {#if editable}<button class="underline underline-offset-2" type="button" onclick={() => void propose(false)}
        >{proposes ? 'Take that back' : 'Not yet'}</button
      >{/if}
  </p>
{:else if status === 'draft' && proposes && editable}
  <Button class="self-start" onclick={() => void propose(true)}>Propose for publishing</Button>
{/if}
{#if sharing.maker || sharing.shared.length}
  <p class="text-xs text-faded">
    {#if sharing.maker}Made by {sharing.maker.name}.{/if}
    {#if sharing.shared.length}Shared with {sharing.shared.map((one) => one.name).join(', ')}.{/if}
  </p>
{/if}
{#if editable && may('listNames')}
  <details ontoggle={(event) => event.currentTarget.open && void look()}>
    <summary class="cursor-pointer text-plum underline underline-offset-2">Which authors write it</summary>
    <ul class="mt-1">
      {#each authors as one (one.id)}
        <li>
          <label class="flex items-center gap-1.5"
            ><input
              type="checkbox"
              checked={sharing.shared.some(({ id }) => id === one.id)}
              onchange={(event) => void share(one.id, event.currentTarget.checked)}
            />{one.name}</label
          >
        </li>
      {:else}{#if names}<li class="text-faded">There is no other author.</li>{:else if !said}<li class="text-faded">
            Reading …
          </li>{/if}{/each}
    </ul>
  </details>
{/if}
{#if said}<p role="alert" class="text-madder">{said}</p>{/if}
