<script lang="ts">
  import { untrack } from 'svelte';
  import { SvelteSet } from 'svelte/reactivity';
  import type { ContentType } from '$lib/core/schema/model';
  import type { ModelIndex } from '$lib/core/model/model-index';
  import Button from '$lib/ui/Button.svelte';
  import type { PartOfConflict } from './draft';
  import { showValue } from './show';

  let {
    list,
    type,
    model,
    onmerge,
    onlook,
  }: {
    list: PartOfConflict[];
    type: ContentType;
    model: ModelIndex;
    /** Called with the parts to be kept as they are in the form. */
    onmerge: (mine: ReadonlySet<string>) => void;
    onlook: () => void;
  } = $props();

  // What only one of the two has changed goes by itself; the rest begins with what was typed here.
  const mine = new SvelteSet<string>(
    untrack(() =>
      list
        .filter((d) => d.clash || JSON.stringify(d.before ?? null) === JSON.stringify(d.theirs ?? null))
        .map((d) => d.part),
    ),
  );
  const LABELS: Record<string, string> = {
    title: 'Title',
    slug: 'Address',
    status: 'Status',
    authorId: 'Author',
    terms: 'Terms',
  };
  const fieldOf = (part: string) => type.fields.find((field) => `values.${field.id}` === part);
  const label = (part: string) => LABELS[part] ?? fieldOf(part)?.label ?? part;
  function words(part: string, value: unknown): string {
    const field = fieldOf(part);
    if (field) return showValue(field, value, model) || 'empty';
    if (part === 'terms')
      return ((value ?? []) as string[]).map((id) => model.term(id)?.name ?? id).join(', ') || 'none';
    if (part === 'authorId') return value ? (model.author(value as number)?.name ?? 'somebody') : 'nobody';
    return String(value ?? '') || 'empty';
  }
</script>

<section class="border-b border-hairline bg-ochre px-8 py-4" aria-label="Changed by somebody else">
  <h2 class="text-lg font-medium">Somebody else has changed this record since you opened it</h2>
  <p>Nothing was overwritten. Choose what shall stand, part by part; nothing of yours is lost until you save.</p>
  <div class="mt-2 max-h-64 overflow-y-auto border border-hairline bg-paper">
    <table class="w-full text-left">
      <thead class="dye-label sticky top-0 bg-linen-deep"
        ><tr
          ><th class="px-3 py-1.5">Part</th><th class="px-3">Before</th><th class="px-3">Theirs, as it stands</th><th
            class="px-3">Yours, in this form</th
          ></tr
        ></thead
      >
      <tbody>
        {#each list as difference (difference.part)}
          <tr class="border-t border-hairline align-top">
            <th class="px-3 py-1.5 font-medium"
              >{label(difference.part)}{#if difference.clash}<span class="block text-xs font-normal text-madder"
                  >both changed it</span
                >{/if}</th
            >
            <td class="max-w-52 px-3 py-1.5 text-faded">{words(difference.part, difference.before).slice(0, 300)}</td>
            {#each ['theirs', 'mine'] as const as whose (whose)}
              <td class="max-w-64 px-3 py-1.5"
                ><label class="flex gap-2"
                  ><input
                    type="radio"
                    class="mt-0.5 shrink-0"
                    name="part-{difference.part}"
                    checked={mine.has(difference.part) === (whose === 'mine')}
                    onchange={() => (whose === 'mine' ? mine.add(difference.part) : mine.delete(difference.part))}
                  /><span class="break-words">{words(difference.part, difference[whose]).slice(0, 300)}</span></label
                ></td
              >
            {/each}
          </tr>
        {/each}
      </tbody>
    </table>
  </div>
  <div class="mt-3 flex gap-2">
    <Button tone="main" onclick={() => onmerge(mine)}>Save what is chosen</Button>
    <Button onclick={onlook}>Go on writing first</Button>
  </div>
</section>
