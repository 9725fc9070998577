<script lang="ts">
  import { fieldsIn, targetsIn } from '$lib/core/model/settings';
  import type { Snippet } from 'svelte';
  import { keyOf } from '$lib/core/base/text';
  import { kinds, kindNamed } from '$lib/core/model/kinds';
  import type { SettingControl } from '$lib/core/model/kinds/kind';
  import { kindOf, leadsOf, relationOf } from '$lib/core/model/field';
  import type { Field } from '$lib/core/schema/field';
  import type { Model } from '$lib/core/schema/model';
  import type { Problem } from '$lib/core/base/result';
  import ValueInput from '$lib/studio/values/ValueInput.svelte';
  import OptionsEditor from './OptionsEditor.svelte';
  import KindChange from './KindChange.svelte';
  import PlayerHosts, { type Hosts } from './PlayerHosts.svelte';
  import type { FieldListProps, OtherSides } from './field-list';

  let {
    field,
    saved,
    model,
    typeId,
    number,
    at,
    problems,
    others,
    tabs,
    inRows = false,
    list,
  }: {
    field: Field;
    /** The field as it is kept, if it is. */
    saved?: Field;
    model: Model;
    typeId: string;
    number: number;
    at: string;
    problems: Problem[];
    others: OtherSides;
    tabs: string[];
    inRows?: boolean;
    /** A list of fields, for kinds that hold fields. */
    list: Snippet<[FieldListProps]>;
  } = $props();

  const kind = $derived(kindNamed(field.kind));
  const found = (place: string) => problems.filter((p) => p.at === place || p.at.startsWith(`${place}.`));
  const name = $derived(field.label || `field ${number}`);
  let wanted: Field | undefined = $state();

  function settingsFor(kindName: string): Record<string, unknown> {
    // What the new kind has too, such as options, is kept.
    return kindNamed(kindName)?.starts?.($state.snapshot(field.settings), model) ?? {};
  }
  function setKind(kindName: string) {
    const next: Field = {
      ...$state.snapshot(field),
      kind: kindName,
      settings: settingsFor(kindName),
      initial: undefined,
    };
    if (saved && !inRows && kindName !== saved.kind) wanted = next;
    else
      Object.assign(
        field,
        saved && kindName === saved.kind ? { kind: saved.kind, settings: structuredClone(saved.settings) } : next,
      );
  }

  function setSetting(control: SettingControl, text: string | boolean | string[]) {
    let value: unknown = text === '' ? undefined : text;
    if (control.as === 'number' && typeof text === 'string' && text !== '') value = Number(text);
    field.settings = { ...field.settings, [control.name]: value };
  }
  function shown(control: SettingControl): string {
    const value = field.settings[control.name];
    return value === undefined || value === null ? '' : String(value);
  }
  const typeIds = $derived(targetsIn(field.settings));
  const otherField = $derived(
    model.types
      .flatMap((type) => type.fields.map((other) => ({ type, other })))
      .find(
        ({ other }) =>
          other.id !== field.id &&
          relationOf(other)?.relationId === field.settings.relationId &&
          other.settings.side !== field.settings.side,
      ),
  );
  /** As it is now, as a value of its own: what is known of a field is kept by its object. */
  const now = $derived($state.snapshot(field) as Field);
  const canStart = $derived(leadsOf(field) === undefined && kindOf(now) !== undefined);
  const controls = $derived((kind?.settingControls ?? []).filter((control) => !(inRows && control.as === 'side')));
</script>

<div class="grid grid-cols-[repeat(4,minmax(0,1fr))] gap-x-4 gap-y-3 p-3">
  <label class="col-span-2"
    ><span class="dye-label">Label</span><input
      class="block w-full"
      aria-label="Label of field {number}"
      bind:value={field.label}
      aria-invalid={found(`${at}.label`).length > 0}
    /></label
  >
  <label
    ><span class="dye-label">Kind</span><select
      class="block w-full"
      aria-label="Kind of {name}"
      value={field.kind}
      disabled={saved && leadsOf(saved) === 'record'}
      onchange={(e) => {
        const next = e.currentTarget.value;
        e.currentTarget.value = field.kind;
        setKind(next);
      }}
    >
      {#each kinds.filter((k) => k.forFields && (k.family.leads !== 'record' || !saved || leadsOf(saved) === 'record')) as one (one.name)}<option
          value={one.name}>{one.label}</option
        >{/each}
    </select></label
  >
  <label
    ><span class="dye-label">Key</span><input
      class="block w-full font-mono text-xs"
      placeholder={keyOf(field.label, 'key')}
      aria-label="Key of {name}"
      bind:value={field.key}
      aria-invalid={found(`${at}.key`).length > 0}
    /></label
  >
  <label class="col-span-2"
    ><span class="dye-label">Help for authors</span><input
      class="block w-full"
      aria-label="Help for {name}"
      bind:value={field.help}
    /></label
  >
  {#if !inRows}
    <label
      ><span class="dye-label">Tab of the form</span><input
        class="block w-full"
        list="tabs-of-form"
        placeholder="Main"
        aria-label="Tab of {name}"
        bind:value={field.tab}
      /></label
    >
    <datalist id="tabs-of-form"
      >{#each tabs as tab (tab)}<option value={tab}></option>{/each}</datalist
    >
  {/if}
  <span class="flex items-end gap-4 pb-1">
    <label class="flex items-center gap-1.5"><input type="checkbox" bind:checked={field.required} />required</label>
    {#if !inRows && leadsOf(field) === undefined && !kindOf(now)?.many}<label class="flex items-center gap-1.5"
        ><input type="checkbox" bind:checked={field.unique} />unique</label
      >{/if}
  </span>
  {#each controls as control (control.name)}
    {#if control.as === 'fields'}
      <div class="col-span-4">
        <p class="dye-label mb-1">{control.label}</p>
        {@render list({
          fields: fieldsIn(field.settings),
          saved: fieldsIn(saved?.settings),
          model,
          typeId,
          at: `${at}.settings.fields`,
          problems,
          others,
          tabs,
          inRows: true,
          onchange: (fields) => (field.settings = { ...field.settings, fields }),
        })}
      </div>
    {:else if control.as === 'side'}
      <div class="col-span-2">
        <span class="dye-label block">On the other side</span>
        {#if otherField}
          <p>“{otherField.other.label}” of {otherField.type.name}</p>
        {:else if typeIds.length}
          <span class="flex items-center gap-2">
            <input
              class="min-w-0 grow"
              aria-label="Name of {name} on the other side"
              placeholder="Not shown there; name it to show it"
              value={others[field.id]?.label ?? ''}
              oninput={(e) => (others[field.id] = { many: true, ...others[field.id], label: e.currentTarget.value })}
            />
            <label class="flex items-center gap-1.5 whitespace-nowrap"
              ><input
                type="checkbox"
                checked={others[field.id]?.many ?? true}
                onchange={(e) => (others[field.id] = { label: '', ...others[field.id], many: e.currentTarget.checked })}
              />several</label
            >
          </span>
        {/if}
      </div>
    {:else if control.as === 'types'}
      <fieldset class="col-span-2">
        <legend class="dye-label">{control.label}</legend>
        <span class="flex flex-wrap gap-x-4">
          {#each model.types as one (one.id)}
            <label class="flex items-center gap-1.5"
              ><input
                type="checkbox"
                checked={typeIds.includes(one.id)}
                onchange={(e) =>
                  setSetting(
                    control,
                    e.currentTarget.checked ? [...typeIds, one.id] : typeIds.filter((id) => id !== one.id),
                  )}
              />{one.plural}</label
            >
          {/each}
        </span>
      </fieldset>
    {:else if control.as === 'switch'}
      <label class="flex items-center gap-1.5 pt-4"
        ><input
          type="checkbox"
          checked={Boolean(field.settings[control.name])}
          onchange={(e) => setSetting(control, e.currentTarget.checked)}
        />{control.label}</label
      >
    {:else if control.as === 'players'}
      <PlayerHosts
        label={control.label}
        help={control.help}
        of={name}
        hosts={(field.settings[control.name] ?? []) as Hosts}
        onchange={(hosts) => (field.settings = { ...field.settings, [control.name]: hosts })}
      />
    {:else if control.as === 'options'}
      <OptionsEditor
        {field}
        of={name}
        onchange={(options) => (field.settings = { ...field.settings, [control.name]: options })}
      />
    {:else}
      <label
        ><span class="dye-label">{control.label}</span><input
          type={control.as === 'number' ? 'number' : 'text'}
          step="any"
          class="block w-full"
          aria-label="{control.label} of {name}"
          title={control.help}
          value={shown(control)}
          oninput={(e) => setSetting(control, e.currentTarget.value)}
        /></label
      >
    {/if}
  {/each}
  {#if canStart}
    <div class="col-span-4">
      <label class="dye-label block" for="initial-{field.id}">A new record starts with</label>
      <ValueInput
        field={now}
        id="initial-{field.id}"
        value={field.initial}
        invalid={found(`${at}.initial`).length > 0}
        onchange={(value) => (field.initial = value ?? undefined)}
      />
    </div>
  {/if}
  {#each found(at).filter((p) => !/\.settings\.fields\.\d/.test(p.at.slice(at.length))) as problem, i (i)}<p
      class="col-span-4 text-madder"
      role="alert"
    >
      {problem.what}
      {problem.fix ?? ''}
    </p>{/each}
</div>
{#if wanted && saved}<KindChange
    before={saved}
    after={wanted}
    {typeId}
    onclose={() => (wanted = undefined)}
    onchange={(next) => {
      Object.assign(field, next);
      wanted = undefined;
    }}
  />{/if}
