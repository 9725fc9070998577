<script lang="ts">
  import { X } from '@lucide/svelte';
  import { plainField } from '$lib/core/model/field';
  import type { ModelIndex } from '$lib/core/model/model-index';
  import type { Purpose } from '$lib/core/schema/template';
  import type { Target } from '$lib/core/schema/target';
  import RecordsInput from '$lib/studio/values/RecordsInput.svelte';
  import RuleEditor from '$lib/studio/workbench/rules/RuleEditor.svelte';
  import type { Workbench } from '$lib/studio/workbench/state/workbench.svelte';
  import { TARGET_WORDS } from './words';

  let {
    target,
    purpose,
    index,
    wb,
    wrong,
    onchange,
    onremove,
  }: {
    target: Target;
    purpose: Purpose;
    index: ModelIndex;
    /** The records that rules are written beside; there once they have been fetched. */
    wb: Workbench | undefined;
    wrong: string | undefined;
    onchange: (target: Target) => void;
    onremove: () => void;
  } = $props();

  const id = $props.id();
  const typeOf = $derived('typeId' in target ? index.type(target.typeId ?? '') : undefined);
  /** Targets of records that may keep to one type. */
  const narrows = $derived(purpose !== 'archive' && ['term', 'taxonomy', 'author'].includes(target.on));
  const chosen = plainField('chosen', 'Chosen records', 'relation');
</script>

<div class="rounded-sm border border-hairline px-2 py-1.5" data-target={target.on}>
  <div class="flex items-center gap-2">
    <span class="shrink-0">{TARGET_WORDS[target.on]}</span>
    {#if target.on === 'type' || target.on === 'dates' || target.on === 'rule' || target.on === 'records'}
      <select
        aria-label="Content type"
        value={target.typeId}
        onchange={(e) => {
          const typeId = e.currentTarget.value;
          if (target.on === 'rule') onchange({ ...target, typeId, rule: { group: 'all', rules: [] } });
          else if (target.on === 'records') onchange({ ...target, typeId, ids: [] });
          else onchange({ ...target, typeId });
        }}
      >
        {#each index.types as type (type.id)}<option value={type.id}>{type.plural}</option>{/each}
      </select>
    {:else if target.on === 'taxonomy'}
      <select
        aria-label="Taxonomy"
        value={target.taxonomyId}
        onchange={(e) => onchange({ ...target, taxonomyId: e.currentTarget.value })}
      >
        {#each index.taxonomies as taxonomy (taxonomy.id)}<option value={taxonomy.id}>{taxonomy.name}</option>{/each}
      </select>
    {:else if target.on === 'term'}
      <select
        aria-label="Term"
        class="min-w-0"
        value={target.termId}
        onchange={(e) => onchange({ ...target, termId: e.currentTarget.value })}
      >
        {#each index.taxonomies as taxonomy (taxonomy.id)}
          <optgroup label={taxonomy.name}>
            {#each index.termsOf(taxonomy.id) as term (term.id)}<option value={term.id}
                >{' '.repeat(index.above(term.id).length - 1)}{term.name}</option
              >{/each}
          </optgroup>
        {/each}
      </select>
      <span class="shrink-0 text-faded">or below</span>
    {:else if target.on === 'author'}
      <select
        aria-label="Author"
        value={target.authorId}
        onchange={(e) => onchange({ ...target, authorId: Number(e.currentTarget.value) })}
      >
        {#each index.authors as author (author.id)}<option value={author.id}>{author.name}</option>{/each}
      </select>
    {/if}
    {#if narrows && (target.on === 'term' || target.on === 'taxonomy' || target.on === 'author')}
      <select
        aria-label="Of which type"
        value={target.typeId ?? ''}
        onchange={(e) => {
          const { typeId: _, ...rest } = target;
          onchange(e.currentTarget.value ? { ...rest, typeId: e.currentTarget.value } : rest);
        }}
      >
        <option value="">of every type</option>
        {#each index.types as type (type.id)}<option value={type.id}>{type.plural} only</option>{/each}
      </select>
    {/if}
    <button
      type="button"
      class="ml-auto rounded-sm p-1.5 hover:bg-linen-deep"
      aria-label="Take away: {TARGET_WORDS[target.on]}"
      onclick={onremove}><X size={14} /></button
    >
  </div>
  {#if target.on === 'rule'}
    {#if wb && typeOf}
      <div class="mt-1.5">
        <RuleEditor
          {wb}
          scopes={{ recordTypeIds: [target.typeId], loops: [] }}
          rule={target.rule}
          onchange={(rule) => onchange({ ...target, rule })}
        />
      </div>
    {:else}<p class="mt-1 text-faded">Fetching the records to write it beside …</p>{/if}
  {:else if target.on === 'records'}
    {#key target.typeId}
      <div class="mt-1.5">
        <RecordsInput
          field={chosen}
          settings={{ typeIds: [target.typeId], many: true }}
          value={target.ids}
          {id}
          invalid={Boolean(wrong)}
          onchange={(value) => onchange({ ...target, ids: (value ?? []) as number[] })}
        />
      </div>
    {/key}
  {/if}
  {#if wrong}<p role="alert" class="mt-1 text-madder">{wrong}</p>{/if}
</div>
