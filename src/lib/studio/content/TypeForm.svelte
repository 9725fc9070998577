<script lang="ts">
  import { ArrowDown, ArrowUp, X } from '@lucide/svelte';
  import { goto, invalidateAll } from '$app/navigation';
  import { newId } from '$lib/core/ids';
  import { kinds, kindNamed } from '$lib/core/model/kinds';
  import type { SettingControl } from '$lib/core/model/kinds/kind';
  import type { ContentType, Field, Model } from '$lib/core/model/model';
  import type { Problem } from '$lib/core/result';
  import { slugOf } from '$lib/core/text';
  import { send, type RequestFailed } from '$lib/studio/request';
  import Button from '$lib/ui/Button.svelte';

  let { model, type }: { model: Model; type?: ContentType } = $props();

  // svelte-ignore state_referenced_locally
  let draft: ContentType = $state(
    type
      ? structuredClone($state.snapshot(type))
      : { id: newId('t'), key: '', name: '', plural: '', base: '', fields: [], taxonomyIds: [] },
  );
  let problems: Problem[] = $state([]);
  let said = $state('');

  const keyOf = (words: string, fallback: string) =>
    slugOf(words)
      .replace(/[^a-z0-9]+/g, '_')
      .replace(/^[^a-z]+/, '') || fallback;
  const at = (place: string) => problems.find((p) => p.at === place || p.at.startsWith(`${place}.`));

  function addField() {
    draft.fields.push({ id: newId('f'), key: '', label: '', kind: 'text', help: '', required: false, settings: {} });
  }

  function setKind(field: Field, kind: string) {
    field.kind = kind;
    field.settings =
      kind === 'relation'
        ? { relationId: newId('rel'), side: 'a', many: true, typeIds: model.types[0] ? [model.types[0].id] : [] }
        : kind === 'choice'
          ? { options: [] }
          : {};
  }

  function setSetting(field: Field, control: SettingControl, text: string | boolean | string[]) {
    let value: unknown = text === '' ? undefined : text;
    if (control.as === 'number' && typeof text === 'string' && text !== '') value = Number(text);
    if (control.as === 'options') {
      const before = (field.settings.options ?? []) as { key: string; label: string }[];
      value = String(text)
        .split('\n')
        .map((line) => line.trim())
        .filter(Boolean)
        .map((label, i) => ({
          key: before.find((o) => o.label === label)?.key ?? keyOf(label, `option_${i + 1}`),
          label,
        }));
    }
    field.settings = { ...field.settings, [control.name]: value };
  }

  function move(i: number, by: number) {
    const [field] = draft.fields.splice(i, 1);
    if (field) draft.fields.splice(i + by, 0, field);
  }

  function shown(field: Field, control: SettingControl): string {
    const value = field.settings[control.name];
    if (control.as === 'options') return ((value ?? []) as { label: string }[]).map((o) => o.label).join('\n');
    return value === undefined ? '' : String(value);
  }

  async function save(event: SubmitEvent) {
    event.preventDefault();
    said = '';
    problems = [];
    const name = draft.name.trim();
    const plural = draft.plural.trim() || (name && `${name}s`);
    const sent = {
      ...$state.snapshot(draft),
      name,
      plural,
      key: draft.key || keyOf(name, 'type'),
      base: draft.base || slugOf(plural),
      fields: draft.fields.map((field, i) => ({
        ...$state.snapshot(field),
        key: field.key || keyOf(field.label, `field_${i + 1}`),
      })),
    };
    try {
      if (type) await send('PUT', `/api/types/${type.id}`, sent);
      else await send('POST', '/api/types', sent);
      said = 'Saved';
      draft = sent;
      if (type) await invalidateAll();
      else await goto(`/studio/content/${sent.id}`);
    } catch (error) {
      problems = (error as RequestFailed).problems ?? [];
      said = (error as Error).message;
    }
  }
</script>

{#snippet wrong(place: string)}
  {@const found = at(place)}
  {#if found}<p class="mt-0.5 text-madder">{found.what} {found.fix ?? ''}</p>{/if}
{/snippet}

<form class="flex min-h-0 grow flex-col" onsubmit={save} novalidate>
  <div class="min-h-0 grow overflow-y-auto px-8 py-6">
    <div class="mx-auto max-w-5xl">
      <div class="flex gap-4">
        <label class="grow"
          ><span class="dye-label">One is called</span><input
            class="block w-full"
            placeholder="Hut"
            bind:value={draft.name}
            aria-invalid={Boolean(at('name'))}
          />{@render wrong('name')}</label
        >
        <label class="grow"
          ><span class="dye-label">Many are called</span><input
            class="block w-full"
            placeholder={draft.name ? `${draft.name}s` : 'Huts'}
            bind:value={draft.plural}
            aria-invalid={Boolean(at('plural'))}
          />{@render wrong('plural')}</label
        >
        <label class="grow"
          ><span class="dye-label">Address</span><span class="flex items-center gap-1 font-mono text-xs"
            >/<input
              class="block min-w-0 grow"
              placeholder={slugOf(draft.plural || (draft.name ? `${draft.name}s` : 'huts'))}
              bind:value={draft.base}
              aria-invalid={Boolean(at('base'))}
            />/</span
          >{@render wrong('base')}</label
        >
      </div>
      {#if model.taxonomies.length}
        <fieldset class="mt-4 flex items-center gap-4">
          <legend class="dye-label float-left mr-2">Filed under</legend>
          {#each model.taxonomies as taxonomy (taxonomy.id)}
            <label class="flex items-center gap-1.5"
              ><input type="checkbox" value={taxonomy.id} bind:group={draft.taxonomyIds} />{taxonomy.name}</label
            >
          {/each}
        </fieldset>
      {/if}
      <h2 class="mt-6 mb-2 text-xl font-medium">Fields</h2>
      <p class="mb-3 text-faded">Every record has a title, an address and a status without a field for them.</p>
      <ol class="flex flex-col gap-2">
        {#each draft.fields as field, i (field.id)}
          {@const kind = kindNamed(field.kind)}
          <li class="border border-hairline bg-paper px-3 py-2">
            <div class="flex items-center gap-2">
              <span class="w-4 text-center font-mono text-faded" aria-hidden="true">{kind?.glyph}</span>
              <input
                class="w-56"
                placeholder="Label"
                aria-label="Label of field {i + 1}"
                bind:value={field.label}
                aria-invalid={Boolean(at(`fields.${i}.label`))}
              />
              <select
                aria-label="Kind of {field.label || `field ${i + 1}`}"
                value={field.kind}
                disabled={type?.fields.some((f) => f.id === field.id)}
                onchange={(e) => setKind(field, e.currentTarget.value)}
              >
                {#each kinds.filter((k) => k.forFields) as one (one.name)}<option value={one.name}>{one.label}</option
                  >{/each}
              </select>
              <input
                class="w-36 font-mono text-xs"
                placeholder={keyOf(field.label, 'key')}
                aria-label="Key of {field.label || `field ${i + 1}`}"
                bind:value={field.key}
                aria-invalid={Boolean(at(`fields.${i}.key`))}
              />
              <label class="flex items-center gap-1.5"
                ><input type="checkbox" bind:checked={field.required} />required</label
              >
              <span class="ml-auto flex">
                <button
                  type="button"
                  class="p-1.5 text-faded enabled:hover:text-ink disabled:opacity-30"
                  aria-label="Move {field.label} up"
                  disabled={i === 0}
                  onclick={() => move(i, -1)}><ArrowUp size={15} /></button
                >
                <button
                  type="button"
                  class="p-1.5 text-faded enabled:hover:text-ink disabled:opacity-30"
                  aria-label="Move {field.label} down"
                  disabled={i === draft.fields.length - 1}
                  onclick={() => move(i, 1)}><ArrowDown size={15} /></button
                >
                <button
                  type="button"
                  class="p-1.5 text-faded hover:text-madder"
                  aria-label="Take {field.label} away"
                  onclick={() => draft.fields.splice(i, 1)}><X size={15} /></button
                >
              </span>
            </div>
            {#if kind?.settingControls.length}
              <div class="mt-2 flex flex-wrap items-start gap-4 pl-6">
                {#each kind.settingControls as control (control.name)}
                  <label class="flex {control.as === 'switch' ? 'items-center gap-2 pt-4' : 'flex-col'}">
                    <span class="dye-label">{control.label}</span>
                    {#if control.as === 'number'}<input
                        type="number"
                        step="any"
                        class="w-24"
                        value={shown(field, control)}
                        oninput={(e) => setSetting(field, control, e.currentTarget.value)}
                      />
                    {:else if control.as === 'switch'}<input
                        type="checkbox"
                        checked={Boolean(field.settings[control.name])}
                        onchange={(e) => setSetting(field, control, e.currentTarget.checked)}
                      />
                    {:else if control.as === 'options'}<textarea
                        rows="3"
                        class="w-56"
                        placeholder="One on each line"
                        value={shown(field, control)}
                        onchange={(e) => setSetting(field, control, e.currentTarget.value)}
                      ></textarea>
                    {:else if control.as === 'types'}
                      <select
                        value={((field.settings[control.name] ?? []) as string[])[0]}
                        onchange={(e) => setSetting(field, control, [e.currentTarget.value])}
                      >
                        {#each model.types as one (one.id)}<option value={one.id}>{one.plural}</option>{/each}
                      </select>
                    {:else}<input
                        class="w-40"
                        value={shown(field, control)}
                        oninput={(e) => setSetting(field, control, e.currentTarget.value)}
                      />{/if}
                  </label>
                {/each}
              </div>
            {/if}
            {@render wrong(`fields.${i}`)}
          </li>
        {/each}
      </ol>
      <Button class="mt-3" onclick={addField}>Add a field</Button>
    </div>
  </div>
  <div class="flex h-12 shrink-0 items-center gap-3 border-t border-hairline bg-paper px-8">
    <Button tone="main" type="submit">Save</Button>
    <span role="status" class={said === 'Saved' ? 'text-moss' : 'text-madder'}>{said}</span>
  </div>
</form>
