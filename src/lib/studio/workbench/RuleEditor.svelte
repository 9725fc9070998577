<script lang="ts">
  import { Plus, X } from '@lucide/svelte';
  import { compileRule } from '$lib/core/rules/compile';
  import { explain, type Explained } from '$lib/core/rules/explain';
  import { operatorNamed, operatorsFor } from '$lib/core/rules/operators';
  import { compilePath } from '$lib/core/paths/compile';
  import type { Path, Scopes, ValueType } from '$lib/core/paths/path';
  import { isGroup, type Group, type Rule, type Test } from '$lib/core/rules/rule';
  import OperandInput from '$lib/studio/values/OperandInput.svelte';
  import PathPicker from './PathPicker.svelte';
  import Self from './RuleEditor.svelte';
  import type { Workbench } from './workbench.svelte';

  let {
    wb,
    scopes,
    rule,
    onchange,
    nested = false,
    explained,
  }: {
    wb: Workbench;
    scopes: Scopes;
    rule: Group;
    onchange: (rule: Group) => void;
    nested?: boolean;
    explained?: Explained;
  } = $props();

  const why = $derived(explained ?? explain(compileRule(rule, scopes, wb.index), wb.envAt(scopes)));

  const typeOf = (path: Path): ValueType | undefined => {
    const made = compilePath(path, scopes, wb.index);
    return made.ok ? made.value.type : undefined;
  };
  const replace = (i: number, next: Rule) => onchange({ ...rule, rules: rule.rules.with(i, next) });
  const remove = (i: number) => onchange({ ...rule, rules: rule.rules.toSpliced(i, 1) });
  const noTest = (type: ValueType) => (operatorsFor(type).length ? undefined : 'There is no test for this.');

  /** A new test asks the first thing that fits and is complete at once: whether there is a value. */
  function addTest(path: Path) {
    onchange({ ...rule, rules: [...rule.rules, { test: 'filled', path }] });
  }

  function setPath(i: number, test: Test, path: Path, type: ValueType) {
    const keeps =
      operatorsFor(type).some((operator) => operator.name === test.test) &&
      typeOf(test.path)?.kind.family === type.kind.family;
    replace(i, keeps ? { ...test, path } : { test: 'filled', path });
  }

  function setOperator(i: number, test: Test, name: string) {
    const same = operatorNamed(name)?.operand === operatorNamed(test.test)?.operand;
    replace(i, same ? { ...test, test: name } : { test: name, path: test.path });
  }
</script>

<div class="flex flex-col gap-1.5 {nested ? 'border-l-2 border-weld/50 pl-2' : ''}">
  {#if rule.rules.length > 1 || nested || rule.group !== 'all'}
    <div class="flex items-center gap-2">
      <select
        aria-label="How the tests are joined"
        value={rule.group}
        onchange={(e) => onchange({ ...rule, group: e.currentTarget.value as Group['group'] })}
      >
        <option value="all">all of these hold</option>
        <option value="any">any of these holds</option>
        <option value="none">none of these holds</option>
      </select>
    </div>
  {/if}
  {#each rule.rules as part, i (i)}
    {@const seen = why.parts[i]}
    <div class="flex items-start gap-2" data-test={isGroup(part) ? undefined : part.test}>
      <span
        class="mt-1 w-4 shrink-0 text-center font-bold {seen?.holds ? 'text-moss' : 'text-madder'}"
        title={seen?.holds ? 'This holds here' : 'This does not hold here'}>{seen?.holds ? '✓' : '✗'}</span
      >
      {#if isGroup(part)}
        <Self {wb} {scopes} rule={part} nested explained={seen} onchange={(next) => replace(i, next)} />
      {:else}
        {@const type = typeOf(part.path)}
        {@const operator = operatorNamed(part.test)}
        <div class="flex min-w-0 flex-wrap items-center gap-2">
          <PathPicker
            {wb}
            {scopes}
            path={part.path}
            label="Value to test"
            refuse={noTest}
            onpick={(path, t) => setPath(i, part, path, t)}
          />
          {#if type}
            <select aria-label="Test" value={part.test} onchange={(e) => setOperator(i, part, e.currentTarget.value)}>
              {#each operatorsFor(type) as one (one.name)}<option value={one.name}>{one.label}</option>{/each}
            </select>
            {#if operator && !part.other}<OperandInput
                terms={wb.model.terms}
                records={wb.records}
                {operator}
                {type}
                value={part.operand}
                onchange={(operand) => replace(i, { ...part, operand })}
              />{/if}
            {#if operator?.operand === 'same' || operator?.operand === 'several'}
              <PathPicker
                {wb}
                {scopes}
                path={part.other}
                label="Compare with another value"
                empty="or another value"
                refuse={(t) =>
                  t.kind.family === type.kind.family ? undefined : `This is not ${type.kind.label.toLowerCase()}.`}
                onpick={(other) => replace(i, { test: part.test, path: part.path, other })}
              />
              {#if part.other}
                <button
                  type="button"
                  aria-label="Compare with a fixed value again"
                  class="rounded-sm p-1 text-faded hover:bg-linen"
                  onclick={() => replace(i, { test: part.test, path: part.path })}><X size={13} /></button
                >
              {/if}
            {/if}
          {/if}
          <span class="text-xs {seen?.problem ? 'rounded-sm bg-ochre px-1' : 'text-faded'}"
            >{seen?.problem ?? `saw ${seen?.saw ?? 'nothing'}`}</span
          >
        </div>
      {/if}
      <button
        type="button"
        aria-label="Take this test away"
        class="mt-0.5 ml-auto shrink-0 rounded-sm p-1 text-faded hover:bg-linen"
        onclick={() => remove(i)}><X size={14} /></button
      >
    </div>
  {/each}
  <div class="flex items-center gap-2 pl-6">
    <PathPicker
      {wb}
      {scopes}
      label="Add a test"
      empty="Add a test on …"
      refuse={noTest}
      onpick={(path) => addTest(path)}
    />
    {#if !nested && rule.rules.length}
      <button
        type="button"
        class="flex h-7 items-center gap-1 rounded-sm px-2 text-faded hover:bg-linen"
        onclick={() => onchange({ ...rule, rules: [...rule.rules, { group: 'any', rules: [] }] })}
        ><Plus size={13} />Add a group</button
      >
    {/if}
  </div>
</div>
