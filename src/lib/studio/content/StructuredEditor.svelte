<script lang="ts">
  import { X } from '@lucide/svelte';
  import { indexModel } from '$lib/core/model/model';
  import type { ContentType, Model } from '$lib/core/schema/model';
  import type { Structured } from '$lib/core/schema/structured';
  import { pathWords, recordBuiltIns } from '$lib/core/paths/built-ins';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';

  let {
    model,
    type,
    onchange,
  }: { model: Model; type: ContentType; onchange: (structured: Structured | undefined) => void } = $props();

  interface Described {
    name: string;
    about: string;
    takes?: string[];
  }
  const index = $derived(indexModel({ ...model, types: [...model.types.filter(({ id }) => id !== type.id), type] }));
  const said = $derived(type.structured);
  let search = $state('');
  let found: Described[] = $state([]);
  let properties: Described[] = $state([]);
  let failed = $state('');

  let asked = 0;
  async function find(words: string) {
    search = words;
    const own = ++asked;
    try {
      const list = words.trim() ? await api('GET /vocabulary', { query: { search: words } }) : [];
      if (own === asked) found = list;
    } catch (error) {
      failed = failureWords(error);
    }
  }
  $effect(() => {
    const is = said?.is;
    if (!is) return;
    api('GET /vocabulary', { query: { of: is } })
      .then((list) => (properties = list.sort((a, b) => (a.name < b.name ? -1 : 1))))
      .catch((error: unknown) => (failed = failureWords(error)));
  });

  const values = $derived([
    ...type.fields.map((field) => ({ step: field.id, label: field.label })),
    ...recordBuiltIns(index)
      .filter(({ name }) => !['@status', '@type'].includes(name))
      .map(({ name, label }) => ({ step: name, label })),
  ]);
  function choose(is: string) {
    search = '';
    found = [];
    onchange({ is, properties: said?.properties ?? [] });
  }
  const put = (i: number, change: Partial<Structured['properties'][number]>) =>
    said &&
    onchange({ ...said, properties: said.properties.map((one, at) => (at === i ? { ...one, ...change } : one)) });
</script>

<div>
  {#if said}
    <p class="flex items-center gap-2">
      <span>Each {type.name.toLowerCase() || 'record'} is a</span><b>{said.is}</b>
      <button type="button" class="text-plum underline underline-offset-2" onclick={() => onchange(undefined)}
        >Say nothing</button
      >
    </p>
    <ul class="mt-1 flex flex-col gap-1">
      {#each said.properties as { property, path }, i (i)}
        <li class="flex items-center gap-2">
          <select
            aria-label="Property"
            class="w-56"
            value={property}
            onchange={(e) => put(i, { property: e.currentTarget.value })}
          >
            {#if !properties.some(({ name }) => name === property)}<option value={property}>{property}</option>{/if}
            {#each properties as one (one.name)}<option value={one.name} title={one.about}>{one.name}</option>{/each}
          </select>
          <span class="text-faded">is</span>
          <select
            aria-label="Value"
            class="w-56"
            value={path.steps.join(' ')}
            onchange={(e) => put(i, { path: { from: 'record', steps: [e.currentTarget.value] } })}
          >
            {#if path.steps.length !== 1}<option value={path.steps.join(' ')}>{pathWords(path, index)}</option>{/if}
            {#each values as one (one.step)}<option value={one.step}>{one.label}</option>{/each}
          </select>
          <span class="min-w-0 truncate text-xs text-faded"
            >{properties.find(({ name }) => name === property)?.about ?? ''}</span
          >
          <button
            type="button"
            class="ml-auto rounded-sm p-1.5 hover:bg-linen-deep"
            aria-label="Take away {property}"
            onclick={() => onchange({ ...said, properties: said.properties.filter((_, at) => at !== i) })}
            ><X size={13} /></button
          >
        </li>
      {/each}
    </ul>
    <button
      type="button"
      class="mt-1 text-plum underline underline-offset-2"
      onclick={() =>
        onchange({
          ...said,
          properties: [
            ...said.properties,
            {
              property:
                properties.find(
                  ({ name }) => name === 'description' && !said.properties.some((one) => one.property === name),
                )?.name ??
                properties[0]?.name ??
                'name',
              path: { from: 'record', steps: [values[0]?.step ?? '@title'] },
            },
          ],
        })}>Add a property</button
    >
    <span class="ml-2 text-xs text-faded">Name and address are told anyway.</span>
  {:else}
    <label class="block"
      ><span class="dye-label">What is each {type.name.toLowerCase() || 'record'} to programs that read the page?</span>
      <input
        class="mt-0.5 block w-80"
        placeholder="Find a type of schema.org, such as Event"
        value={search}
        oninput={(e) => void find(e.currentTarget.value)}
      />
    </label>
    {#if found.length}
      <ul class="mt-1 max-h-44 overflow-y-auto border border-hairline bg-paper">
        {#each found as one (one.name)}
          <li>
            <button
              type="button"
              class="flex w-full gap-2 px-2 py-1 text-left hover:bg-linen"
              onclick={() => choose(one.name)}
              ><span class="shrink-0 font-medium">{one.name}</span><span class="min-w-0 truncate text-faded"
                >{one.about}</span
              ></button
            >
          </li>
        {/each}
      </ul>
    {/if}
  {/if}
  {#if failed}<p role="alert" class="text-madder">{failed}</p>{/if}
</div>
