<script lang="ts">
  import Self from './RuleGroup.svelte';
  import { GripVertical, X } from '@lucide/svelte';
  import { newId } from '$lib/core/base/ids';
  import { compilePath } from '$lib/core/paths/compile';
  import type { Path } from '$lib/core/schema/path';
  import type { Scopes, ValueType } from '$lib/core/paths/scopes';
  import { scopesOfRows } from '$lib/core/rules/compile';
  import { insertPart, withPart, type PartPlace } from '$lib/core/rules/parts';
  import type { Explained } from '$lib/core/rules/explain';
  import { operatorNamed, operatorsFor, startingTest } from '$lib/core/rules/operators';
  import { isGroup, isNamed, isWhere, type Group, type Rule, type Test, type Where } from '$lib/core/schema/rule';
  import OperandInput from '$lib/studio/values/OperandInput.svelte';
  import NamedPart from '../settings/NamedPart.svelte';
  import PathPicker from '../settings/PathPicker.svelte';
  import type { RuleDrag } from './rule-drag.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    scopes,
    whole,
    group,
    place,
    why,
    drag,
    joined,
    onchange,
  }: {
    wb: Workbench;
    scopes: Scopes;
    /** The rule that this group is part of, and where in it the group stands. */
    whole: Group;
    group: Group;
    place: PartPlace;
    why: Explained | undefined;
    drag: RuleDrag;
    /** Says how its tests are joined even where there is only one. */
    joined: boolean;
    onchange: (whole: Group) => void;
  } = $props();

  const typeOf = (path: Path): ValueType | undefined => {
    const made = compilePath(path, scopes, wb.index);
    return made.ok ? made.value.type : undefined;
  };
  const put = (i: number, next: Rule | undefined) => onchange(withPart(whole, [...place, i], next) as Group);
  const add = (part: Rule) => onchange(insertPart(whole, place, group.rules.length, part) as Group);
  const noTest = (type: ValueType) =>
    operatorsFor(type).length || asksRows(type) ? undefined : 'There is no test for this.';
  /** Whether a rule can be asked of each of its values. */
  const asksRows = (type: ValueType) => scopesOfRows('', type, scopes) !== undefined;
  const ROWS: Where['rows'][] = ['some', 'every', 'none'];
  const ROW_WORDS = { some: 'has some where', every: 'has only those where', none: 'has none where' };

  function setPath(i: number, test: Test, path: Path, type: ValueType) {
    const keeps =
      operatorsFor(type).some((operator) => operator.name === test.test) &&
      typeOf(test.path)?.kind.family === type.kind.family;
    put(i, keeps ? { ...test, path } : startingTest(path, type));
  }
  function setOperator(i: number, part: Test | Where, name: string) {
    const rows = ROWS.find((one) => `rows.${one}` === name);
    if (rows) {
      const kept = isWhere(part) ? part : undefined;
      return put(i, {
        rows,
        path: part.path,
        as: kept?.as ?? newId('row'),
        where: kept?.where ?? { group: 'all', rules: [] },
      });
    }
    const same = !isWhere(part) && operatorNamed(name)?.operand === operatorNamed(part.test)?.operand;
    put(i, same ? { ...part, test: name } : { test: name, path: part.path });
  }
  const words = (part: Rule): string =>
    isGroup(part) ? 'group' : isNamed(part) ? 'rule' : isWhere(part) ? 'test of rows' : 'test';
</script>

<div
  class="flex min-w-0 flex-col gap-1 {place.length ? 'border-l-2 border-weld/50 pl-2' : ''}"
  data-rule-group={place.join('.')}
>
  {#if group.rules.length > 1 || joined || group.group !== 'all'}
    <select
      class="self-start"
      aria-label="How the tests are joined"
      value={group.group}
      onchange={(e) =>
        onchange(
          (place.length
            ? withPart(whole, place, { ...group, group: e.currentTarget.value as Group['group'] })
            : { ...group, group: e.currentTarget.value }) as Group,
        )}
    >
      <option value="all">all of these hold</option>
      <option value="any">any of these holds</option>
      <option value="none">none of these holds</option>
    </select>
  {/if}
  {#each group.rules as part, i (i)}
    {@const seen = why?.parts[i]}
    {@const own = [...place, i]}
    {@const key = own.join('.')}
    <div
      class="relative flex items-start gap-1 rounded-sm {drag.from === key ? 'opacity-50' : ''} {drag.over?.at ===
        key && drag.over.drop === 'onto'
        ? 'outline-2 outline-madder outline-dashed'
        : ''}"
      data-rule-at={key}
      data-test={isGroup(part) || isWhere(part) || isNamed(part) ? undefined : part.test}
    >
      {#if drag.over?.at === key && drag.over.drop !== 'onto'}<span
          class="pointer-events-none absolute inset-x-0 h-[3px] bg-madder {drag.over.drop === 'before'
            ? '-top-1'
            : '-bottom-1'}"
        ></span>{/if}
      <span
        role="button"
        tabindex="0"
        class="mt-0.5 shrink-0 cursor-grab rounded-sm py-1 text-faded hover:bg-linen"
        aria-label="Move this {words(part)}: drag it, or Alt with the arrows"
        title="Drag it; onto another to make a group of the two. Alt and arrows move it too."
        data-rule-grip={key}
        onkeydown={(event) => drag.key(event, own)}
        {@attach drag.grip(() => own)}><GripVertical size={13} /></span
      >
      <span
        class="mt-1 w-4 shrink-0 text-center font-bold {seen?.holds ? 'text-moss' : 'text-madder'}"
        title={seen?.holds ? 'This holds here' : 'This does not hold here'}>{seen?.holds ? '✓' : '✗'}</span
      >
      {#if isGroup(part)}
        <Self {wb} {scopes} {whole} group={part} place={own} why={seen} {drag} joined {onchange} />
      {:else if isNamed(part)}
        <NamedPart {wb} {scopes} {part} {seen} onreplace={(next) => put(i, next)} />
      {:else}
        {@const type = typeOf(part.path)}
        {@const operator = isWhere(part) ? undefined : operatorNamed(part.test)}
        <div class="flex min-w-0 flex-col gap-1">
          <div class="flex min-w-0 flex-wrap items-center gap-2">
            <PathPicker
              {wb}
              {scopes}
              path={part.path}
              label="Value to test"
              refuse={noTest}
              onpick={(path, t) => (isWhere(part) ? put(i, startingTest(path, t)) : setPath(i, part, path, t))}
            />
            {#if type}
              <select
                aria-label="Test"
                value={isWhere(part) ? `rows.${part.rows}` : part.test}
                onchange={(e) => setOperator(i, part, e.currentTarget.value)}
              >
                {#each operatorsFor(type) as one (one.name)}<option value={one.name}>{one.label}</option>{/each}
                {#if asksRows(type)}{#each ROWS as one (one)}<option value="rows.{one}">{ROW_WORDS[one]} …</option
                    >{/each}{/if}
              </select>
              {#if !isWhere(part)}
                {#if operator && !part.other}<OperandInput
                    model={wb.index}
                    {operator}
                    {type}
                    value={part.operand}
                    onchange={(operand) => put(i, { ...part, operand })}
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
                    onpick={(other) => put(i, { test: part.test, path: part.path, other })}
                  />
                  {#if part.other}
                    <button
                      type="button"
                      aria-label="Compare with a fixed value again"
                      class="rounded-sm p-1 text-faded hover:bg-linen"
                      onclick={() => put(i, { test: part.test, path: part.path })}><X size={13} /></button
                    >
                  {/if}
                {/if}
              {/if}
            {/if}
            <span class="text-xs {seen?.problem ? 'rounded-sm bg-ochre px-1' : 'text-faded'}"
              >{seen?.problem ?? `saw ${seen?.saw ?? 'nothing'}`}</span
            >
          </div>
          {#if isWhere(part) && type}
            <Self
              {wb}
              scopes={scopesOfRows(part.as, type, scopes) ?? scopes}
              {whole}
              group={part.where}
              place={[...own, 0]}
              why={seen?.parts.find((one) => one.holds === (part.rows === 'some')) ?? seen?.parts[0]}
              {drag}
              joined={false}
              {onchange}
            />
          {/if}
        </div>
      {/if}
      <button
        type="button"
        aria-label="Take this {words(part)} away"
        class="mt-0.5 ml-auto shrink-0 rounded-sm p-1 text-faded hover:bg-linen"
        onclick={() => put(i, undefined)}><X size={14} /></button
      >
    </div>
  {/each}
  <div class="flex flex-wrap items-center gap-2 pl-9">
    <PathPicker
      {wb}
      {scopes}
      label="Add a test"
      empty="Add a test on …"
      refuse={noTest}
      onpick={(path, type) =>
        add(
          operatorsFor(type).length
            ? startingTest(path, type)
            : { rows: 'some', path, as: newId('row'), where: { group: 'all', rules: [] } },
        )}
    />
    {#if group.rules.length}
      <button
        type="button"
        class="flex h-7 items-center rounded-sm px-1.5 text-faded hover:bg-linen"
        onclick={() => add({ group: group.group === 'any' ? 'all' : 'any', rules: [] })}>Add a group</button
      >
    {/if}
    {#if wb.model.rules.length && !place.length}
      <select
        aria-label="Add a rule by its name"
        value=""
        onchange={(e) => {
          if (e.currentTarget.value) add({ named: e.currentTarget.value });
          e.currentTarget.value = '';
        }}
      >
        <option value="">Add a kept rule …</option>
        {#each wb.model.rules as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
      </select>
    {/if}
  </div>
</div>
