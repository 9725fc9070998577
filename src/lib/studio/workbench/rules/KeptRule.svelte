<script lang="ts">
  import type { NamedRule } from '$lib/core/schema/named-rule';
  import { compileRule } from '$lib/core/rules/compile';
  import { ruleWords } from '$lib/core/rules/explain';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { failureWords } from '../../base/request';
  import { api } from '../../base/api';
  import RuleEditor from './RuleEditor.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, onsaved }: { wb: Workbench; onsaved?: () => void } = $props();

  interface Use {
    what: string;
    href: string;
  }
  let draft: NamedRule | undefined = $state.raw();
  /** What uses it, once that is known. */
  let uses: Use[] | undefined = $state.raw();
  let said = $state('');
  let open = $state(false);

  $effect(() => {
    const rule = wb.rules.editing;
    draft = rule;
    open = Boolean(rule);
    said = '';
    uses = undefined;
    if (rule?.version)
      api('GET /rules')
        .then((known) => (uses = known.uses[rule.id] ?? []))
        .catch((error: unknown) => (said = failureWords(error)));
  });

  const scopes = $derived({ recordTypeIds: draft ? [draft.typeId] : [], loops: [] });
  const sentence = $derived(
    draft?.rule.rules.length
      ? ruleWords(compileRule(draft.rule, scopes, wb.index), wb.preview.envAt(scopes))
      : 'always, as there is no test yet',
  );

  function close() {
    wb.rules.editing = wb.rules.keeping = undefined;
  }
  async function save() {
    if (!draft) return;
    said = '';
    try {
      const kept = await wb.rules.keep(draft);
      const id = wb.rules.keeping;
      if (id)
        wb.edit(`${wb.nameOf(id)} appears by the rule ${kept.name}`, {
          do: 'put',
          id,
          at: ['rule'],
          value: { group: 'all', rules: [{ named: kept.id }] },
        });
      close();
      onsaved?.();
    } catch (error) {
      said = failureWords(error);
    }
  }
</script>

<Sheet
  bind:open
  wide
  title={draft?.version ? 'A kept rule' : 'A new rule'}
  about="It can be put on elements and lists of every template, and is changed for all of them here."
  onclose={close}
>
  {#if draft}
    <div class="flex flex-col gap-3">
      <label class="flex items-center gap-2"
        ><span class="font-medium">Name</span><input
          class="w-72"
          value={draft.name}
          oninput={(e) => draft && (draft = { ...draft, name: e.currentTarget.value })}
        /><span class="text-faded">about a {wb.index.type(draft.typeId)?.name.toLowerCase() ?? 'deleted type'}</span
        ></label
      >
      <p>It holds when <span class="font-medium">{sentence}</span>.</p>
      <RuleEditor {wb} {scopes} rule={draft.rule} onchange={(rule) => draft && (draft = { ...draft, rule })} />
      {#if uses?.length}<p class="text-faded">
          Used by {#each uses as use, i (use.what)}{i ? ', ' : ''}<a
              class="underline underline-offset-2"
              href={use.href}>{use.what}</a
            >{/each}.
        </p>{:else if draft.version && !said}<p class="text-faded">
          {uses ? 'Nothing uses it yet.' : 'Looking for what uses it …'}
        </p>{/if}
      {#if said}<p role="alert" class="rounded-sm bg-ochre px-2 py-1">{said}</p>{/if}
      <div class="flex gap-2">
        <Button tone="main" onclick={() => void save()}>{draft.version ? 'Change it everywhere' : 'Keep it'}</Button>
        <Button tone="bare" onclick={close}>Cancel</Button>
      </div>
    </div>
  {/if}
</Sheet>
