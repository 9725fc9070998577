<script lang="ts">
  import { wouldChangeWords, verdictOf } from '$lib/core/checks/why';
  import type { Path } from '$lib/core/schema/path';
  import { ruleWords } from '$lib/core/rules/explain';
  import type { Group } from '$lib/core/schema/rule';
  import type { Element } from '$lib/core/schema/element';
  import Button from '$lib/ui/Button.svelte';
  import Titles from '../proof/Titles.svelte';
  import { untrack } from 'svelte';
  import { changeable, showOne } from '../state/suppose';
  import RuleEditor from './RuleEditor.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    element,
    certain,
    oncorrect,
  }: {
    wb: Workbench;
    element: Element;
    /** What is known of the rule without any record. */
    certain: string[];
    oncorrect: (path: Path) => void;
  } = $props();

  const scopes = $derived(wb.scopesAt(element.id));
  const rule: Group = $derived(element.rule ?? { group: 'all', rules: [] });
  const made = $derived(wb.compiledOf(element.id)?.rule);
  const sentence = $derived(made ? ruleWords(made, wb.preview.envAt(scopes)) : undefined);
  const fates = $derived(wb.preview.fates.get(element.id));
  const turns = $derived(fates ? fates.drawn + fates.empty + fates.rule : 0);
  const held = $derived(wb.preview.held.has(element.id));
  const why = $derived(wb.whyOf(element.id));
  const other = $derived(why.at !== element.id);
  let said = $state('');
  /** What came of looking for a record with it. */
  let shown = $state('');
  $effect(() => {
    void [wb.tree, element.id];
    shown = '';
  });

  // How many records it appears for, while its rule is written.
  const counted = $derived(wb.showsRecords || wb.template.purpose === 'archive');
  $effect(() => {
    const [tree, id] = [wb.tree, element.id];
    void [wb.model, wb.records, wb.parts, wb.template.serves, wb.preview.set];
    if (counted) untrack(() => wb.survey.count(tree, [id]));
  });
  const total = $derived(counted ? wb.survey.totalOf(element.id) : undefined);
  const change = $derived(counted ? wb.survey.difference(element.id) : undefined);
  const plural = $derived(wb.pagesWords());

  function setRule(next: Group) {
    said = '';
    wb.edit(
      next.rules.length ? `Changed when ${wb.nameOf(element.id)} appears` : `${wb.nameOf(element.id)} appears always`,
      { do: 'put', id: element.id, at: ['rule'], value: next.rules.length ? next : undefined },
    );
  }
  function keep() {
    const found = wb.rules.ruleToKeep(element.id);
    if (typeof found === 'string') return void (said = found);
    wb.rules.keeping = element.id;
    wb.rules.editing = { id: '', version: 0, name: wb.nameOf(element.id), ...found };
  }
</script>

<div class="grid grid-cols-[minmax(0,1fr)_19rem] gap-4 px-3 py-2">
  <div class="flex min-w-0 flex-col gap-2">
    <p>
      {#if sentence}<span class="font-medium">Appears when {sentence}.</span>{:else}Appears always. Add a test, and it
        appears only where that holds.{/if}
      {#if sentence && fates}
        <span class="ml-2 rounded-sm px-1.5 py-0.5 {fates.drawn ? 'bg-moss/15 text-moss' : 'bg-weld/15 text-weld'}">
          {turns > 1
            ? `Its rule holds in ${fates.drawn + fates.empty} of ${turns} turns`
            : held && !why.shown
              ? 'Held open'
              : fates.rule
                ? 'Hidden here'
                : fates.drawn
                  ? 'Appears here'
                  : 'Left out here: nothing in it is filled'}
        </span>
      {/if}
    </p>
    {#each certain as words (words)}<p class="rounded-sm bg-ochre px-2 py-1">{words}</p>{/each}
    {#if said}<p role="alert" class="rounded-sm bg-ochre px-2 py-1">{said}</p>{/if}
    <RuleEditor {wb} {scopes} {rule} onchange={setRule} />
    <div class="flex flex-wrap items-center gap-1">
      {#if rule.rules.length}
        <Button tone="bare" onclick={() => (wb.clipboard.rule = rule)}>Copy the rule</Button>
        <Button tone="bare" onclick={keep}>Keep it under a name</Button>
      {/if}
      {#if wb.clipboard.rule && wb.clipboard.rule !== rule}<Button
          onclick={() => (said = wb.clipboard.putRule(element.id, wb.clipboard.rule as Group) ?? '')}
          >Put the copied rule here</Button
        >{/if}
    </div>
  </div>
  <div class="flex min-w-0 flex-col gap-1 border-l border-hairline pl-4" data-why>
    <p class="font-medium">{verdictOf(why, element.id, (id) => wb.titleOf(id))}</p>
    {#each why.turn as turn, i (i)}
      <p>
        {wouldChangeWords(turn)}
        {#if changeable(wb, turn.path, wb.scopesAt(why.at))}<button
            type="button"
            class="text-plum underline underline-offset-2"
            onclick={() => oncorrect(turn.path)}>Change the value</button
          >{:else if turn.path.from === 'record' && wb.preview.record}<a
            class="text-plum underline underline-offset-2"
            href="/studio/content/{wb.preview.record.typeId}/{wb.preview.record.id}">Open the record</a
          >{/if}
      </p>
    {/each}
    {#if other && wb.element(why.at)}<p>
        <button type="button" class="text-plum underline underline-offset-2" onclick={() => wb.selection.select(why.at)}
          >Go to {wb.titleOf(why.at)}</button
        >
      </p>{/if}
    {#if !why.shown || held}<p>
        <Button onclick={() => wb.hold(element.id)}>{held ? 'Let go of it' : 'Hold it open to work on it'}</Button>
      </p>{/if}
    {#if total}
      <p class="mt-1 border-t border-hairline pt-1" data-total>
        Appears for <strong class="tabular-nums">{total.shown.toLocaleString('en')}</strong> of
        {total.of.toLocaleString('en')}
        {plural}{total.turns
          ? `, in ${total.turns.drawn.toLocaleString('en')} of ${total.turns.of.toLocaleString('en')} turns`
          : ''}{wb.survey.set === 'all' ? ', drafts too' : ''}.
      </p>
      {#if !total.shown && (wb.showsRecords || total.turns)}<p>
          <Button onclick={() => (shown = showOne(wb, element.id))}>Show one</Button>
        </p>
        {#if shown}<p role="status" class="rounded-sm bg-indigo/10 px-2 py-1">{shown}</p>{/if}{/if}
      {#if change && change.gained.length + change.lost.length}
        <div data-change>
          <Titles {wb} words="Since it was opened it has gained" ids={change.gained} />
          <Titles {wb} words="Since it was opened it has lost" ids={change.lost} />
        </div>
      {/if}
    {/if}
  </div>
</div>
