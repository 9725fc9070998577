<script lang="ts">
  import { fieldsIn, optionsIn } from '$lib/core/model/settings';
  import type { Becomes, OptionAnswer, OptionGoingSeen } from '$lib/core/content/options';
  import type { ContentType } from '$lib/core/schema/model';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import SeenAtOnce from './SeenAtOnce.svelte';
  import Uses from '../media/Uses.svelte';

  let {
    going,
    type,
    onclose,
    onanswer,
  }: {
    going: OptionGoingSeen[];
    /** As it will be. */
    type: ContentType;
    onclose: () => void;
    onanswer: (answers: OptionAnswer[]) => void;
  } = $props();

  let open = $state(true);
  $effect(() => {
    if (!open) onclose();
  });
  /** By field and option: the key of another one, or what else becomes of it. */
  const chosen: Record<string, string> = $state({});
  const keyOf = ({ field, option }: OptionGoingSeen) => `${field} ${option}`;

  function optionsOf(id: string, fields = type.fields): { key: string; label: string }[] {
    for (const field of fields) {
      if (field.id === id) return optionsIn(field.settings);
      const inner = optionsOf(id, fieldsIn(field.settings));
      if (inner.length) return inner;
    }
    return [];
  }
  const ready = $derived(going.every((one) => !one.records || chosen[keyOf(one)]));

  function answer() {
    onanswer(
      going
        .filter((one) => chosen[keyOf(one)])
        .map((one) => {
          const said = chosen[keyOf(one)] as string;
          const becomes: Becomes =
            said === '=stay' ? { stay: true } : said === '=empty' ? { empty: true } : { to: said.slice(1) };
          return { field: one.field, option: one.option, becomes };
        }),
    );
  }
</script>

<Sheet
  bind:open
  title={going.length === 1 ? `“${going[0]?.label}” is taken away` : `${going.length} options are taken away`}
  about="What asks for an option that is gone is a loose end afterwards, unless the values stay as they are."
>
  <ul class="flex flex-col gap-3">
    {#each going as one (keyOf(one))}
      <li class="flex flex-col gap-1 border-t border-hairline pt-2 first:border-0 first:pt-0">
        <p>
          <span class="font-semibold">{one.label}</span>
          <span class="text-faded">of {one.fieldLabel}:</span>
          {#if one.records}
            <strong>{one.records.toLocaleString('en')}</strong>
            {one.records === 1 ? 'record has' : 'records have'} it, {one.titles.join(', ')}{one.records >
            one.titles.length
              ? ' and others'
              : ''}.
          {:else}no record has it.{/if}
        </p>
        {#if one.records}
          <label class="flex items-center gap-2"
            ><span>{one.records === 1 ? 'Then it has' : 'Then they have'}</span>
            <select
              aria-label="What becomes of {one.label}"
              value={chosen[keyOf(one)] ?? ''}
              onchange={(e) => (chosen[keyOf(one)] = e.currentTarget.value)}
            >
              <option value="">Choose what becomes of it</option>
              {#each optionsOf(one.field) as other (other.key)}<option value=":{other.key}">{other.label}</option
                >{/each}
              <option value="=empty">nothing</option>
              <option value="=stay">{one.label} as before, no longer offered</option>
            </select></label
          >
          {#if chosen[keyOf(one)] && chosen[keyOf(one)] !== '=stay'}<SeenAtOnce
              done="Changed"
              released={one.released}
            />{/if}
        {/if}
        {#if one.uses.length}<Uses uses={one.uses} />{/if}
      </li>
    {/each}
  </ul>
  <div class="mt-4 flex gap-2">
    <Button tone="main" disabled={!ready} onclick={answer}>Save the content type</Button>
    <Button onclick={() => (open = false)}>Keep {going.length === 1 ? 'it' : 'them'}</Button>
  </div>
</Sheet>
