<script lang="ts">
  import { X } from '@lucide/svelte';
  import { elementNamed } from '$lib/core/elements';
  import { SCREENS, type StyleValue } from '$lib/core/schema/style';
  import { TOKEN_GROUPS, type NamedLook, type Theme } from '$lib/core/schema/theme';
  import { tokensIn } from '$lib/core/styles/style';
  import { readKey, STATE_WORDS } from '$lib/core/styles/boxes';
  import { valueWords } from '$lib/core/styles/words';

  let {
    theme,
    uses,
    onlooks,
    onremoved,
  }: {
    theme: Theme;
    /** Templates whose elements have a look, by `look-key`. */
    uses: Record<string, { template: string; elements: number }[]>;
    onlooks: (looks: NamedLook[]) => void;
    onremoved: (look: NamedLook) => void;
  } = $props();

  const WIDTHS = { wide: '', medium: ' up to 1,023 px', narrow: ' up to 599 px' };
  /** What it says, in words. */
  const says = ({ style, kind }: NamedLook) =>
    SCREENS.flatMap((screen) =>
      Object.entries(style[screen] ?? {}).flatMap(([key, value]: [string, StyleValue]) => {
        const read = readKey(key);
        if (!read) return [];
        const box = elementNamed(kind)?.boxes?.find(({ name }) => name && name === read.box)?.label;
        const where = [box?.toLowerCase(), read.state && STATE_WORDS[read.state].toLowerCase()].filter(Boolean);
        return `${read.property.label}${where.length ? ` (${where.join(', ')})` : ''}: ${valueWords(read.property, value, theme)}${WIDTHS[screen]}`;
      }),
    ).join('; ');
  /** Tokens that it names and the theme does not have. */
  const gone = ({ style }: NamedLook) =>
    [...new Set(tokensIn(style))].filter(
      (token) => !TOKEN_GROUPS.some((group) => theme[group].some(({ key }) => token === `${group}-${key}`)),
    );
  const used = ({ key }: NamedLook) =>
    (uses[`look-${key}`] ?? [])
      .map(({ template, elements }) => `${template} (${elements} element${elements === 1 ? '' : 's'})`)
      .join(', ');
</script>

{#if theme.looks.length}
  <section class="mb-6" aria-labelledby="looks-of-theme">
    <div class="flex items-baseline gap-3">
      <h2 id="looks-of-theme" class="font-display text-lg font-medium">Named looks</h2>
      <p class="text-xs text-faded">Kept from an element on the workbench, and changed there for all that have them.</p>
    </div>
    <ul class="mt-1">
      {#each theme.looks as look, i (look.key)}
        <li class="flex flex-wrap items-center gap-2 border-b border-hairline/60 py-1" data-look-row={look.key}>
          <input
            class="w-36 border-transparent! bg-transparent! hover:border-hairline!"
            aria-label="Name of the look {look.name}"
            maxlength="60"
            value={look.name}
            onchange={(e) => {
              const name = e.currentTarget.value.trim();
              if (name) onlooks(theme.looks.map((one, at) => (at === i ? { ...one, name } : one)));
              else e.currentTarget.value = look.name;
            }}
          />
          <span class="text-xs text-faded">{elementNamed(look.kind)?.label ?? look.kind}</span>
          <button
            type="button"
            class="ml-auto rounded-sm p-1 text-faded hover:bg-linen-deep"
            aria-label="Take the look {look.name} away"
            onclick={() => {
              onlooks(theme.looks.filter(({ key }) => key !== look.key));
              onremoved(look);
            }}><X size={13} /></button
          >
          <p class="w-full px-2 text-xs">{says(look) || 'It says nothing yet.'}</p>
          {#if gone(look).length}
            <p class="w-full rounded-sm bg-ochre px-2 text-xs">
              It names {gone(look).join(', ')}, which the theme no longer has: there it is as if nothing were set.
            </p>
          {/if}
          <p class="w-full px-2 text-xs text-faded">{used(look) ? `On ${used(look)}` : 'On nothing yet'}</p>
        </li>
      {/each}
    </ul>
  </section>
{/if}
