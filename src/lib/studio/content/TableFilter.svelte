<script lang="ts">
  import { X } from '@lucide/svelte';
  import type { ContentType } from '$lib/core/schema/model';
  import type { ModelIndex } from '$lib/core/model/model-index';
  import { compilePath } from '$lib/core/paths/compile';
  import type { Scopes } from '$lib/core/paths/scopes';
  import { recordBuiltIns } from '$lib/core/paths/built-ins';
  import { operatorNamed, operatorsFor } from '$lib/core/rules/operators';
  import { operandProblem } from '$lib/core/rules/compile';
  import { isGroup, type Group, type Test } from '$lib/core/schema/rule';
  import OperandInput from '$lib/studio/values/OperandInput.svelte';
  import Button from '$lib/ui/Button.svelte';

  let {
    type,
    model,
    filter,
    onapply,
  }: {
    type: ContentType;
    model: ModelIndex;
    filter?: Group;
    onapply: (filter?: Group) => void;
  } = $props();

  // svelte-ignore state_referenced_locally
  let tests: Test[] = $state((filter?.rules ?? []).filter((rule): rule is Test => !isGroup(rule)));
  // svelte-ignore state_referenced_locally
  let group: Group['group'] = $state(filter?.group ?? 'all');
  const scopes: Scopes = $derived({ loops: [{ id: 'table', name: type.plural, typeIds: [type.id], depth: 0 }] });
  const typeAt = (step: string) => {
    const made = compilePath({ from: 'loop:table', steps: [step] }, scopes, model);
    return made.ok ? made.value.type : undefined;
  };
  /** What the database can be asked: values with an index, relations, terms, and of everything whether it is there. */
  const steps = $derived([
    ...type.fields.map((field) => ({ step: field.id, label: field.label })),
    ...recordBuiltIns(model)
      .filter(
        (b) =>
          ['@title', '@status', '@created', '@changed', '@published'].includes(b.name) ||
          type.taxonomyIds.some((id) => b.name === `@terms:${id}`),
      )
      .map((b) => ({ step: b.name, label: b.label })),
  ]);
  const operatorsAt = (step: string) => {
    const t = typeAt(step);
    return t ? operatorsFor(t).filter((operator) => operator.lookup) : [];
  };
  const complete = $derived(
    tests.every((test) => {
      const [operator, t] = [operatorNamed(test.test), typeAt(test.path.steps[0] as string)];
      return operator && t && !operandProblem(operator, test.operand, t);
    }),
  );

  function setStep(i: number, step: string) {
    tests[i] = { test: operatorsAt(step)[0]?.name ?? 'filled', path: { from: 'loop:table', steps: [step] } };
  }
  function setOperator(i: number, name: string) {
    const test = tests[i] as Test;
    const same = operatorNamed(name)?.operand === operatorNamed(test.test)?.operand;
    tests[i] = { test: name, path: test.path, ...(same ? { operand: test.operand } : {}) };
  }
</script>

<div class="mt-3 flex flex-col gap-2 border border-hairline bg-paper p-3">
  {#if tests.length > 1}
    <select aria-label="How the tests are joined" class="self-start" bind:value={group}>
      <option value="all">all of these hold</option>
      <option value="any">any of these holds</option>
      <option value="none">none of these holds</option>
    </select>
  {/if}
  {#each tests as test, i (i)}
    {@const step = test.path.steps[0] as string}
    {@const valueType = typeAt(step)}
    {@const operator = operatorNamed(test.test)}
    <div class="flex flex-wrap items-center gap-2">
      <select aria-label="Field" value={step} onchange={(e) => setStep(i, e.currentTarget.value)}>
        {#each steps as one (one.step)}<option value={one.step}>{one.label}</option>{/each}
      </select>
      <select aria-label="Test" value={test.test} onchange={(e) => setOperator(i, e.currentTarget.value)}>
        {#each operatorsAt(step) as one (one.name)}<option value={one.name}>{one.label}</option>{/each}
      </select>
      {#if operator && valueType}
        <OperandInput
          {model}
          {operator}
          type={valueType}
          value={test.operand}
          onchange={(operand) => (tests[i] = { ...test, operand })}
        />
      {/if}
      <button
        type="button"
        class="p-1 text-faded hover:text-madder"
        aria-label="Take the test away"
        onclick={() => tests.splice(i, 1)}><X size={14} /></button
      >
    </div>
  {/each}
  <div class="flex gap-2">
    <Button
      onclick={() => tests.push({ test: 'filled', path: { from: 'loop:table', steps: [steps[0]?.step ?? '@title'] } })}
      >Add a test</Button
    >
    <Button
      tone="main"
      disabled={!complete}
      onclick={() => onapply(tests.length ? { group, rules: $state.snapshot(tests) as Test[] } : undefined)}
      >Show these</Button
    >
    {#if filter}<Button tone="bare" onclick={() => onapply(undefined)}>Show all</Button>{/if}
  </div>
</div>
