<script lang="ts">
  import Sign from '$lib/ui/Sign.svelte';
  import { ChevronDown, Repeat } from '@lucide/svelte';
  import { Popover } from 'bits-ui';
  import PopoverContent from '$lib/ui/PopoverContent.svelte';
  import { fold } from '$lib/core/base/text';
  import { compilePath } from '$lib/core/paths/compile';
  import { pathWords } from '$lib/core/paths/built-ins';
  import type { Path } from '$lib/core/schema/path';
  import type { Scopes, ValueType } from '$lib/core/paths/scopes';
  import { beyond, reachable, type Reachable } from '$lib/core/paths/reach';
  import { asWords } from '$lib/core/rules/explain';
  import type { Take } from '$lib/core/schema/binding';
  import { takeWords } from '$lib/core/templates/bring';
  import { takeOf, typeAfter } from '$lib/core/paths/takes';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    scopes,
    path,
    label,
    empty = 'Choose a value',
    refuse,
    only,
    takes,
    onpick,
    onrepeat,
  }: {
    wb: Workbench;
    scopes: Scopes;
    path?: Path;
    label: string;
    empty?: string;
    /** Why a value does not fit here; undefined where it does. */
    refuse: (type: ValueType) => string | undefined;
    /** The only scope that paths may start from; any without it. */
    only?: string;
    /** For a value of several: the ways to make one of it, the best first. More than one are offered. */
    takes?: (type: ValueType) => Take[];
    onpick: (path: Path, type: ValueType, take?: Take) => void;
    /** Offered for values of several: something that repeats over them instead. */
    onrepeat?: (path: Path, type: ValueType) => void;
  } = $props();

  let open = $state(false);
  let search = $state('');
  /** The value of several that a way is being chosen for. */
  let several: Choice | undefined = $state.raw();

  interface Choice {
    entry: Reachable;
    group: string;
    words: string;
    value: unknown;
    why?: string;
  }

  /** Everything reachable within one relation step, what fits first. */
  const choices = $derived.by((): Choice[] => {
    if (!open) return [];
    const env = wb.preview.envAt(scopes);
    const wanted = fold(search.trim());
    const made: Choice[] = [];
    for (const group of reachable(scopes, wb.index)) {
      if (only && group.from !== only) continue;
      // Its own values first, then those reached through them.
      const all = [
        ...group.entries,
        ...group.entries.flatMap((entry) =>
          beyond(entry, scopes, wb.index).flatMap((next) =>
            search ? [next, ...beyond(next, scopes, wb.index)] : [next],
          ),
        ),
      ];
      for (const entry of all) {
        const compiled = compilePath(entry.path, scopes, wb.index);
        if (!compiled.ok) continue;
        const value = compiled.value.read(env);
        const words = asWords(value, entry.type, env);
        if (wanted && !fold(`${entry.type.label} ${words}`).includes(wanted)) continue;
        made.push({
          entry,
          group: group.name,
          value,
          words: words === 'nothing' ? 'empty' : words,
          why: refuse(entry.type),
        });
      }
    }
    // Of what is searched for the nearest comes first.
    const groups = [...new Set(made.map((choice) => choice.group))];
    const far = ({ group, entry }: Choice) => groups.indexOf(group) * 100 + entry.path.steps.length;
    if (wanted) made.sort((a, b) => far(a) - far(b));
    return [...made.filter((c) => !c.why), ...made.filter((c) => c.why)].slice(0, 160);
  });

  const nameOf = ({ path: { steps }, type, label }: Reachable) => (steps.length > 1 ? type.label : label);
  const words = $derived(path && pathWords(path, wb.index));

  function close() {
    open = false;
    search = '';
    several = undefined;
  }
  function pick(choice: Choice, take?: Take) {
    const { path: chosen, type } = choice.entry;
    const ways = take || !type.many ? [] : (takes?.(type) ?? []);
    if (ways.length + (type.many && onrepeat ? 1 : 0) > 1 && !take) {
      several = choice;
      return;
    }
    onpick(chosen, type, take ?? ways[0]);
    close();
  }
  function repeat(choice: Choice) {
    onrepeat?.(choice.entry.path, choice.entry.type);
    close();
  }
  function resultOf(choice: Choice, take: Take): string {
    const { type } = choice.entry;
    const env = wb.preview.envAt(scopes);
    const value = Array.isArray(choice.value) ? takeOf(choice.value, take, type) : choice.value;
    const said = asWords(value, typeAfter(type, take), env);
    return said === 'nothing' ? 'empty here' : said;
  }
  function onKey(event: KeyboardEvent) {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    event.preventDefault();
    const list = event.currentTarget as HTMLElement;
    const all = [...list.querySelectorAll<HTMLElement>('button:not([disabled])')];
    const at = all.indexOf(document.activeElement as HTMLElement);
    all[event.key === 'ArrowDown' ? at + 1 : Math.max(0, at - 1)]?.focus();
  }
</script>

<Popover.Root bind:open onOpenChange={(now) => !now && close()}>
  <Popover.Trigger
    aria-label={label}
    class="flex h-7 max-w-56 min-w-28 items-center gap-1.5 rounded-sm border border-hairline bg-paper px-2 text-left hover:border-faded"
  >
    {#if words}<span class="size-2 shrink-0 rounded-full bg-madder"></span><span class="truncate">{words}</span
      >{:else}<span class="text-faded">{empty}</span>{/if}
    <ChevronDown size={13} class="ml-auto shrink-0 text-faded" />
  </Popover.Trigger>
  <PopoverContent side="top" align="start" aria-label={label} class="flex max-h-96 w-80 flex-col" onkeydown={onKey}>
    {#if several}
      <p class="px-3 pt-2 pb-1">
        <span class="font-medium">{several.entry.type.label}</span> has several values. Use
      </p>
      <ul class="min-h-0 overflow-y-auto pb-2">
        {#each takes?.(several.entry.type) ?? [] as take (take)}
          <li>
            <button
              type="button"
              class="flex w-full items-baseline gap-2 px-3 py-1 text-left hover:bg-linen focus-visible:bg-linen"
              onclick={() => several && pick(several, take)}
            >
              <span class="shrink-0">{takeWords(take)}</span>
              <span class="ml-auto min-w-0 truncate text-xs text-faded">{resultOf(several, take)}</span>
            </button>
          </li>
        {/each}
        {#if onrepeat}
          <li class="mt-1 border-t border-hairline pt-1">
            <button
              type="button"
              class="flex w-full items-center gap-2 px-3 py-1 text-left text-indigo hover:bg-linen focus-visible:bg-linen"
              onclick={() => several && repeat(several)}
              ><Repeat size={13} />Repeat over them, with {wb
                .repeating(several.entry.path, several.entry.type, scopes)
                ?.label.toLowerCase()} in its place</button
            >
          </li>
        {/if}
      </ul>
    {:else}
      <input
        type="search"
        bind:value={search}
        placeholder="Find a field or a value"
        aria-label="Find a field or a value"
        class="m-2 shrink-0"
      />
      <ul class="min-h-0 overflow-y-auto pb-2">
        {#each choices as choice, i (`${choice.entry.path.from}|${choice.entry.path.steps.join('/')}`)}
          {#if i === 0 || choices[i - 1]?.group !== choice.group || Boolean(choices[i - 1]?.why) !== Boolean(choice.why)}
            <li class="dye-label px-3 pt-2 pb-0.5">
              {choice.why ? `${choice.group}: does not fit here` : choice.group}
            </li>
          {/if}
          <li>
            <button
              type="button"
              disabled={Boolean(choice.why)}
              onclick={() => pick(choice)}
              class="flex w-full items-start gap-2 px-3 py-1 text-left enabled:hover:bg-linen focus-visible:bg-linen disabled:cursor-default"
            >
              <Sign sign={choice.entry.type.kind.sign} size={13} class="mt-0.5 text-faded" />
              <span class="min-w-0 grow">
                <span class="block truncate leading-tight {choice.why ? 'text-faded' : ''}">{nameOf(choice.entry)}</span
                >
                <span class="block truncate text-xs leading-tight text-faded">{choice.why ?? choice.words}</span>
              </span>
            </button>
          </li>
        {:else}
          <li class="px-3 py-2 text-faded">Nothing here has “{search}” in it.</li>
        {/each}
      </ul>
    {/if}
  </PopoverContent>
</Popover.Root>
