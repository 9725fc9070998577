<script lang="ts" module>
  import type { PlayerHost } from '$lib/core/model/kinds/player';

  /** Hosts as a field's settings hold them: a name alone stands for a careful choice. */
  export type Hosts = (string | PlayerHost)[];
</script>

<script lang="ts">
  import { FEATURES, REFERRERS, TOKENS } from '$lib/core/model/kinds/player';
  import Button from '$lib/ui/Button.svelte';

  let {
    label,
    help,
    of,
    hosts,
    onchange,
  }: { label: string; help?: string; of: string; hosts: Hosts; onchange: (hosts: Hosts) => void } = $props();

  const CAREFUL: PlayerHost = { host: '', allow: ['fullscreen'], sandbox: ['allow-scripts'], referrer: 'no-referrer' };
  const all = $derived(
    hosts.map((one) => (typeof one === 'string' ? { ...CAREFUL, host: one } : { ...CAREFUL, ...one })),
  );

  const set = (index: number, change: Partial<PlayerHost>) =>
    onchange(all.map((one, i) => (i === index ? { ...one, ...change } : one)));
  const turned = (list: string[], name: string, on: boolean) =>
    on ? [...list, name] : list.filter((other) => other !== name);
  const pixels = (text: string) => (text === '' ? undefined : Number(text));
</script>

<fieldset class="col-span-4 flex flex-col gap-2">
  <legend class="dye-label">{label}</legend>
  {#if help}<p class="text-xs text-faded">{help}</p>{/if}
  {#each all as one, i (i)}
    {@const name = one.host || `host ${i + 1}`}
    <div class="rounded-sm border border-hairline p-2">
      <span class="flex items-center gap-3">
        <input
          class="w-72"
          placeholder="films.larkfell.example"
          aria-label="Host {i + 1} of {of}"
          value={one.host}
          oninput={(e) => set(i, { host: e.currentTarget.value.trim() })}
        />
        <span class="text-xs text-faded">
          may {[...FEATURES, ...TOKENS]
            .filter((right) => one.allow.includes(right.name) || one.sandbox.includes(right.name))
            .map((right) => right.label)
            .join(', ') || 'only show'}
        </span>
        <span class="ml-auto"
          ><Button onclick={() => onchange(all.filter((_, other) => other !== i))} aria-label="Take {name} away"
            >Take away</Button
          ></span
        >
      </span>
      <details class="mt-1">
        <summary class="cursor-pointer text-xs underline underline-offset-2">What its players are given</summary>
        <div class="mt-2 grid grid-cols-2 gap-x-6">
          <div class="flex flex-col gap-1">
            {#each FEATURES as right (right.name)}
              {@render choice(right, one.allow, (allow) => set(i, { allow }))}
            {/each}
          </div>
          <div class="flex flex-col gap-1">
            {#each TOKENS as right (right.name)}
              {@render choice(right, one.sandbox, (sandbox) => set(i, { sandbox }))}
            {/each}
          </div>
        </div>
        <div class="mt-2 flex flex-wrap items-end gap-4">
          <label
            ><span class="dye-label block">It learns of the page</span><select
              aria-label="What {name} learns"
              value={one.referrer}
              onchange={(e) => set(i, { referrer: e.currentTarget.value })}
              >{#each REFERRERS as right (right.name)}<option value={right.name}>{right.label}</option>{/each}</select
            ></label
          >
          <span>
            <span class="dye-label block">Shape of all of them</span>
            <span class="flex items-center gap-1">
              <input
                type="number"
                class="w-20"
                placeholder="its own"
                aria-label="Width of players from {name}"
                value={one.width ?? ''}
                oninput={(e) => set(i, { width: pixels(e.currentTarget.value) })}
              />×<input
                type="number"
                class="w-20"
                placeholder="its own"
                aria-label="Height of players from {name}"
                value={one.height ?? ''}
                oninput={(e) => set(i, { height: pixels(e.currentTarget.value) })}
              />
            </span>
          </span>
        </div>
      </details>
    </div>
  {/each}
  <span><Button onclick={() => onchange([...all, { ...CAREFUL }])}>Allow a host</Button></span>
</fieldset>

{#snippet choice(right: { name: string; label: string }, list: string[], change: (list: string[]) => void)}
  <label class="flex items-center gap-1.5"
    ><input
      type="checkbox"
      checked={list.includes(right.name)}
      onchange={(e) => change(turned(list, right.name, e.currentTarget.checked))}
    />{right.label}
    <code class="text-xs text-faded">{right.name}</code></label
  >
{/snippet}
