<script lang="ts">
  import { may } from '$lib/studio/people/me';
  import { invalidateAll } from '$app/navigation';
  import type { NamedRule } from '$lib/core/schema/named-rule';
  import { compileRule } from '$lib/core/rules/compile';
  import { ruleWords } from '$lib/core/rules/explain';
  import { blankTree } from '$lib/core/templates/build';
  import { Coming } from '$lib/studio/base/coming.svelte';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import KeptRule from '$lib/studio/workbench/rules/KeptRule.svelte';
  import { Workbench } from '$lib/studio/workbench/state/workbench.svelte';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  // Rules are written beside the values of a record, as on a workbench with nothing on it.
  // svelte-ignore state_referenced_locally
  const wb = new Workbench({
    ...data,
    parts: [],
    templates: [],
    template: {
      id: 'rules',
      name: 'Rules',
      purpose: 'record',
      order: 0,
      version: 1,
      tree: blankTree(),
      serves: data.model.types.slice(0, 1).map(({ id }) => ({ on: 'type', typeId: id })),
    },
  });
  $effect(() => {
    wb.model = data.model;
  });
  let said = $state('');

  const about = $derived((typeId: string) => wb.index.type(typeId)?.name ?? 'A deleted type');
  function wordsFor({ rule, typeId }: NamedRule) {
    const scopes = { recordTypeIds: [typeId], loops: [] };
    const made = compileRule(rule, scopes, wb.index);
    return { words: ruleWords(made, wb.preview.envAt(scopes)), wrong: made.problems[0]?.what };
  }
  const holding = new Coming(() => data.holding);
  async function remove(rule: NamedRule) {
    said = '';
    try {
      await api('DELETE /rules/{ruleId}', { ruleId: rule.id });
      await invalidateAll();
    } catch (error) {
      said = failureWords(error);
    }
  }
</script>

<svelte:head><title>Rules · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto px-8 py-5">
  <div class="flex items-end gap-4">
    <h1 class="text-3xl font-medium">Rules</h1>
    <p class="pb-1 text-faded">Kept under a name, for elements and lists of every template.</p>
    {#if may('createRule')}<select
        aria-label="New rule about"
        class="ml-auto"
        value=""
        onchange={(e) => {
          const typeId = e.currentTarget.value;
          if (typeId) wb.rules.editing = { id: '', version: 0, name: '', typeId, rule: { group: 'all', rules: [] } };
          e.currentTarget.value = '';
        }}
      >
        <option value="">New rule about …</option>
        {#each data.model.types as type (type.id)}<option value={type.id}>a {type.name.toLowerCase()}</option>{/each}
      </select>{/if}
  </div>
  {#if said}<p role="alert" class="mt-3 rounded-sm bg-ochre px-3 py-2">{said}</p>{/if}
  {#if data.model.rules.length}
    <table class="mt-4 w-full border border-hairline bg-paper text-left">
      <thead class="dye-label bg-linen-deep"
        ><tr
          ><th class="px-3 py-1.5 font-semibold">Rule</th><th class="px-3 font-semibold">Holds when</th><th
            class="px-3 font-semibold">Holds for</th
          ><th class="px-3 font-semibold">Used by</th><th class="px-3"><span class="sr-only">Change</span></th></tr
        ></thead
      >
      <tbody>
        {#each data.model.rules as rule (rule.id)}
          {@const { words, wrong } = wordsFor(rule)}
          {@const held = holding.now?.[rule.id]}
          <tr class="border-t border-hairline align-top">
            <td class="w-56 px-3 py-2"
              ><span class="block font-medium">{rule.name}</span><span class="text-xs text-faded"
                >about a {about(rule.typeId).toLowerCase()}</span
              ></td
            >
            <td class="px-3 py-2"
              >{words}{#if wrong}<span class="ml-2 rounded-sm bg-ochre px-1">{wrong}</span>{/if}</td
            >
            <td class="w-36 px-3 py-2 tabular-nums"
              >{#if held}{held.holds.toLocaleString('en')} of {held.of.toLocaleString('en')}{:else}<span
                  class="text-faded">{holding.failed ? 'Not known; load the page again.' : 'Counting …'}</span
                >{/if}</td
            >
            <td class="w-64 px-3 py-2">
              {#each data.uses[rule.id] ?? [] as use, i (use.what)}{i ? ', ' : ''}<a
                  class="underline decoration-hairline underline-offset-2 hover:decoration-plum"
                  href={use.href}>{use.what}</a
                >{:else}<span class="text-faded">nothing yet</span>{/each}
            </td>
            <td class="w-40 px-3 py-2 text-right whitespace-nowrap"
              >{#if may('saveRule')}<Button onclick={() => (wb.rules.editing = rule)}>Open</Button>
                <Button tone="bare" onclick={() => void remove(rule)}>Delete</Button>{/if}</td
            >
          </tr>
        {/each}
      </tbody>
    </table>
  {:else}
    <div class="mt-8 max-w-md">
      <p class="font-display text-xl">No rule is kept yet</p>
      <p class="mt-1 text-faded">
        Write one here, or keep the rule of an element under a name at the workbench: in its tab “Appears”.
      </p>
    </div>
  {/if}
</main>
<KeptRule {wb} onsaved={() => void invalidateAll()} />
