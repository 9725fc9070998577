<script lang="ts">
  import { untrack } from 'svelte';
  import { ROLE_WORDS, ROLES, type Role } from '$lib/core/people/roles';
  import { api } from '../base/api';
  import Button from '$lib/ui/Button.svelte';
  import Part from './Part.svelte';

  interface Rule {
    by: 'group' | 'domain';
    is: string;
    role: Role;
  }
  let {
    name,
    rules,
    act,
  }: {
    name: string | undefined;
    rules: Rule[];
    act: (work: () => Promise<unknown>, words: string) => Promise<void>;
  } = $props();

  let own = $state(untrack(() => rules.map((rule) => ({ ...rule }))));
  const changed = $derived(JSON.stringify(own) !== JSON.stringify(rules));
</script>

<Part
  title="Identity provider"
  about={name
    ? `Who comes from ${name} gets the highest role that fits. Whom no rule fits needs an account.`
    : 'None is set. An operator names one when starting the application.'}
>
  {#if name || rules.length}
    <ul class="space-y-2">
      {#each own as rule, i (i)}
        <li class="flex flex-wrap items-center gap-2">
          Whoever is
          <select aria-label="By what, rule {i + 1}" bind:value={rule.by}>
            <option value="group">in the group</option>
            <option value="domain">of the mail domain</option>
          </select>
          <input
            aria-label="Which, rule {i + 1}"
            required
            maxlength="200"
            placeholder={rule.by === 'group' ? 'hut-keepers' : 'larkfell.example'}
            class="w-48"
            bind:value={rule.is}
          />
          is
          <select aria-label="Role, rule {i + 1}" bind:value={rule.role}>
            {#each ROLES as one (one)}<option value={one}>{ROLE_WORDS[one].name}</option>{/each}
          </select>
          <Button tone="bare" aria-label="Take rule {i + 1} away" onclick={() => (own = own.filter((_, n) => n !== i))}
            >Take away</Button
          >
        </li>
      {/each}
    </ul>
    <p class="mt-3 flex gap-2">
      <Button onclick={() => (own = [...own, { by: 'group', is: '', role: 'reader' }])}>Add a rule</Button>
      {#if changed}
        <Button
          tone="main"
          onclick={() => void act(() => api('PUT /people/provider', { body: { rules: own } }), 'The rules are kept.')}
          >Keep the rules</Button
        >
      {/if}
    </p>
  {/if}
</Part>
