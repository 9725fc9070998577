<script lang="ts">
  import { Plus } from '@lucide/svelte';
  import { Popover } from 'bits-ui';
  import PopoverContent from '$lib/ui/PopoverContent.svelte';
  import { formats } from '$lib/core/formats';
  import type { Format } from '$lib/core/formats/format';
  import type { Scopes, ValueType } from '$lib/core/paths/scopes';
  import { compileFormats } from '$lib/core/bindings/slots';
  import type { FormatUse } from '$lib/core/schema/binding';
  import { roleOf } from '$lib/core/model/kinds/kind';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    scopes,
    type,
    used,
    value,
    onpick,
  }: {
    wb: Workbench;
    scopes: Scopes;
    /** What is written, after the take. */
    type: ValueType;
    used: FormatUse[];
    /** The value on screen; undefined where it is empty. */
    value: unknown;
    onpick: (use: FormatUse) => void;
  } = $props();

  let open = $state(false);

  interface Variant {
    format: Format;
    words: string;
    use: FormatUse;
    result: string;
  }

  /** Each format that fits, in each of its styles, with what it would make of the value on screen. */
  const variants = $derived.by((): Variant[] => {
    if (!open) return [];
    const env = wb.preview.envAt(scopes);
    // What is for running text is offered for that, and for what was written out before.
    const prose =
      ['words', 'story'].includes(roleOf(type.kind, type.many)) &&
      type.kind.family.formats.every((one) => one === 'text' || one === 'address');
    return formats.flatMap((format) => {
      if (format.ofProse && !prose) return [];
      const [first] = format.controls;
      const styles = first?.as === 'pick' ? (first.options ?? []) : [];
      const uses = styles.length
        ? styles.map((style) => ({ words: style.label, options: { [first!.name]: style.value } }))
        : [{ words: '', options: {} }];
      return uses.flatMap(({ words, options }): Variant[] => {
        const use = { format: format.name, options } as FormatUse;
        const chain = [...used, use];
        const made = compileFormats(chain, type, scopes, wb.index);
        if (made.problems.some((p) => p.at === `formats.${chain.length - 1}`)) return [];
        return [{ format, words, use, result: value === undefined ? '' : made.write(value, env) }];
      });
    });
  });
</script>

<Popover.Root bind:open>
  <Popover.Trigger
    class="flex h-7 items-center gap-1 rounded-sm border border-hairline bg-paper px-2 hover:border-faded"
    ><Plus size={13} />Format</Popover.Trigger
  >
  <PopoverContent side="top" align="start" aria-label="Formats that fit" class="max-h-96 w-96 overflow-y-auto py-1">
    {#each variants as variant, i (`${variant.format.name} ${variant.words}`)}
      {#if variants[i - 1]?.format !== variant.format}
        <p class="dye-label px-3 pt-2 pb-0.5">{variant.format.label}</p>
      {/if}
      <button
        type="button"
        class="flex w-full items-baseline gap-3 px-3 py-1 text-left hover:bg-linen focus-visible:bg-linen"
        onclick={() => {
          onpick(variant.use);
          open = false;
        }}
      >
        <span class="shrink-0">{variant.words || variant.format.label}</span>
        <span class="ml-auto min-w-0 truncate text-xs text-faded">{variant.result || 'empty here'}</span>
      </button>
    {:else}
      <p class="px-3 py-2 text-faded">No further format fits.</p>
    {/each}
  </PopoverContent>
</Popover.Root>
