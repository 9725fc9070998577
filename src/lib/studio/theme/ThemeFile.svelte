<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import { kindNamed } from '$lib/core/model/kinds';
  import type { Model } from '$lib/core/schema/model';
  import type { Choice, Mapping } from '$lib/core/releases/theme-file';
  import type { Problem } from '$lib/core/base/result';
  import { RequestFailed, failureWords } from '$lib/studio/base/request';
  import type { ResponseOf } from '$lib/client/api';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';

  let { model }: { model: Model } = $props();

  type Plan = ResponseOf<'POST /theme-file/plan'>;
  type Taken = ResponseOf<'POST /theme-file'>;

  let file: unknown;
  let plan: Plan | undefined = $state.raw();
  let mapping: Mapping | undefined = $state();
  let open = $state(false);
  let failed = $state('');
  let problems: Problem[] = $state([]);
  let working = $state(false);
  let taken: Taken | undefined = $state.raw();
  let input: HTMLInputElement;

  async function chosen(given: File | undefined) {
    if (!given) return;
    failed = '';
    problems = [];
    taken = undefined;
    try {
      try {
        file = JSON.parse(await given.text()) as unknown;
      } catch (error) {
        throw new Error(`“${given.name}” is not JSON: ${(error as Error).message}`, { cause: error });
      }
      plan = await api('POST /theme-file/plan', { body: file });
      mapping = plan.mapping;
      open = true;
    } catch (error) {
      told(error);
    }
    input.value = '';
  }
  function told(error: unknown) {
    failed = error instanceof RequestFailed ? error.message : failureWords(error);
    problems = error instanceof RequestFailed ? error.problems : [];
  }
  async function take() {
    if (!mapping) return;
    failed = '';
    problems = [];
    working = true;
    try {
      taken = await api('POST /theme-file', { body: { file, mapping: $state.snapshot(mapping) } });
      open = false;
      await invalidateAll();
    } catch (error) {
      told(error);
    }
    working = false;
  }
  const valueOf = (choice: Choice | undefined) =>
    typeof choice === 'object' ? `as ${choice.as}` : (choice ?? 'leave');
  const choiceOf = (value: string): Choice =>
    value.startsWith('as ') ? { as: value.slice(3) } : (value as 'new' | 'leave');
  const family = (kind: string) => kindNamed(kind)?.family;
  const targetOf = (typeId: string) => {
    const choice = mapping?.types[typeId];
    return typeof choice === 'object' ? model.types.find(({ id }) => id === choice.as) : undefined;
  };
  const differing = $derived(
    (plan?.types ?? []).filter(
      (type) =>
        mapping?.types[type.id] !== 'leave' &&
        type.fields.some(({ id }) => mapping?.fields[id] === 'new') &&
        targetOf(type.id),
    ),
  );
  const n = (count: number, one: string, many = `${one}s`) => `${count} ${count === 1 ? one : many}`;
  const words = (made: Taken): string =>
    [
      made.templates && n(made.templates, 'template'),
      made.replaced &&
        `${n(made.replaced, 'template')} in the place of ${made.replaced === 1 ? 'one' : 'those'} that stood`,
      made.types && n(made.types, 'content type'),
      made.fields && n(made.fields, 'field'),
      made.terms && n(made.terms, 'term'),
      made.rules && n(made.rules, 'rule'),
      made.menus && n(made.menus, 'menu'),
      made.theme && 'the tokens',
    ]
      .filter(Boolean)
      .join(', ');
</script>

<section class="mt-8" aria-label="The theme as a file">
  <h2 class="text-xl font-medium">The theme as a file</h2>
  <p class="text-faded">Content types, templates, parts, rules, tokens and menus; no records and no pictures.</p>
  <p class="mt-2 flex gap-2">
    <a
      class="inline-flex h-7 items-center rounded-sm border border-hairline bg-paper px-2.5 font-medium hover:border-faded"
      href="/api/v1/theme-file"
      download>Take it home</a
    >
    <Button onclick={() => input.click()}>Bring one in</Button>
    <input
      bind:this={input}
      type="file"
      accept=".json,application/json"
      class="sr-only"
      aria-label="A theme’s file"
      onchange={(e) => void chosen(e.currentTarget.files?.[0])}
    />
  </p>
  {#if failed && !open}<p role="alert" class="mt-2 text-madder">{failed}</p>
    {#each problems as problem, i (i)}<p class="text-madder">
        {problem.at}
        {problem.what}
        {problem.fix ?? ''}
      </p>{/each}{/if}
  {#if taken}
    <p role="status" class="mt-2 text-moss">
      Taken in: {words(taken) || 'nothing'}. Visitors see it with the next release.
    </p>
    {#each taken.loose as one (one.name)}<p class="mt-1 rounded-sm bg-ochre px-2">
        ≋ “{one.name}” reads {n(one.elements, 'value')} that {one.elements === 1 ? 'is' : 'are'} not there.
      </p>{/each}
  {/if}
</section>

<Sheet
  bind:open
  wide
  title="Bring in “{plan?.name ?? ''}”"
  about="Say what each thing of the theme is on this site. Nothing that stands is overwritten unless you choose it."
>
  {#if plan && mapping}
    <div class="grid grid-cols-2 gap-8">
      <section aria-label="Content">
        <h3 class="dye-label mb-1">Content types</h3>
        {#each plan.types as type (type.id)}
          <label class="flex items-center gap-2 py-0.5"
            ><span class="min-w-0 grow truncate">{type.name}</span>
            <select
              aria-label="{type.name} is"
              value={valueOf(mapping.types[type.id])}
              onchange={(e) => mapping && (mapping.types[type.id] = choiceOf(e.currentTarget.value))}
            >
              {#each model.types as own (own.id)}<option value="as {own.id}">is {own.name}</option>{/each}
              <option value="new">new</option>
              <option value="leave">left out</option>
            </select></label
          >
        {/each}
        <h3 class="dye-label mt-3 mb-1">Taxonomies</h3>
        {#each plan.taxonomies as taxonomy (taxonomy.id)}
          <label class="flex items-center gap-2 py-0.5"
            ><span class="min-w-0 grow truncate">{taxonomy.name}, {n(taxonomy.terms, 'term')}</span>
            <select
              aria-label="{taxonomy.name} is"
              value={valueOf(mapping.taxonomies[taxonomy.id])}
              onchange={(e) => mapping && (mapping.taxonomies[taxonomy.id] = choiceOf(e.currentTarget.value))}
            >
              {#each model.taxonomies as own (own.id)}<option value="as {own.id}">is {own.name}</option>{/each}
              <option value="new">new</option>
              <option value="leave">left out</option>
            </select></label
          >
        {/each}
        {#each differing as type (type.id)}
          {@const own = targetOf(type.id)}
          <h3 class="dye-label mt-3 mb-1">Fields of {type.name} that {own?.name} has not</h3>
          {#each type.fields.filter(({ id }) => plan?.mapping.fields[id] === 'new') as field (field.id)}
            <label class="flex items-center gap-2 py-0.5"
              ><span class="min-w-0 grow truncate">{field.label} <span class="text-faded">{field.kind}</span></span>
              <select
                aria-label="{field.label} is"
                value={valueOf(mapping.fields[field.id])}
                onchange={(e) => mapping && (mapping.fields[field.id] = choiceOf(e.currentTarget.value))}
              >
                <option value="new">new</option>
                {#each own?.fields.filter((one) => family(one.kind) === family(field.kind)) ?? [] as one (one.id)}<option
                    value="as {one.id}">is {one.label}</option
                  >{/each}
                <option value="leave">left out</option>
              </select></label
            >
          {/each}
        {/each}
      </section>
      <section aria-label="Design">
        {#each [{ key: 'templates' as const, label: 'Templates and parts', list: plan.templates }, { key: 'rules' as const, label: 'Rules', list: plan.rules }, { key: 'menus' as const, label: 'Menus', list: plan.menus }] as { key, label, list } (key)}
          {#if list.length}
            <h3 class="dye-label mt-3 mb-1 first:mt-0">{label}</h3>
            {#each list as one (one.id)}
              <label class="flex items-center gap-2 py-0.5"
                ><span class="min-w-0 grow truncate">{one.name}</span>
                <select
                  aria-label="{one.name} comes in"
                  value={valueOf(mapping[key][one.id])}
                  onchange={(e) => mapping && (mapping[key][one.id] = choiceOf(e.currentTarget.value))}
                >
                  <option value="new">{one.there ? 'beside the one there is' : 'new'}</option>
                  {#if one.there}<option value="as {one.id}">in its place</option>{/if}
                  <option value="leave">left out</option>
                </select></label
              >
            {/each}
          {/if}
        {/each}
        <label class="mt-3 flex items-center gap-2"
          ><input type="checkbox" bind:checked={mapping.theme} disabled={!plan.theme} />Its tokens in the place of ours{plan.theme
            ? ''
            : ' (they are the same)'}</label
        >
      </section>
    </div>
    {#if failed}<p role="alert" class="mt-3 text-madder">{failed}</p>
      {#each problems as problem, i (i)}<p class="text-madder">{problem.what} {problem.fix ?? ''}</p>{/each}{/if}
    <div class="mt-5 flex justify-end gap-2">
      <Button onclick={() => (open = false)}>Cancel</Button>
      <Button tone="main" disabled={working} onclick={take}>{working ? 'Taking it in' : 'Take it in'}</Button>
    </div>
  {/if}
</Sheet>
