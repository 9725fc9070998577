<script lang="ts">
  import { may } from '$lib/studio/people/me';
  import LookOnly from '$lib/studio/people/LookOnly.svelte';
  import { Download, Plus, Redo2, Undo2, Upload, X } from '@lucide/svelte';
  import { untrack, type Snippet } from 'svelte';
  import { keyOf } from '$lib/core/base/text';
  import { contrast } from '$lib/core/theme/contrast';
  import { fromDesignTokens, toDesignTokens } from '$lib/core/exchange/design-tokens';
  import { BUILT_IN, completeTheme } from '$lib/core/theme/theme';
  import { ThemeSchema, TOKEN_GROUPS, type Shadow, type Theme, type TokenGroup } from '$lib/core/schema/theme';
  import { tokensIn } from '$lib/core/styles/style';
  import Button from '$lib/ui/Button.svelte';
  import { failureWords, type RequestFailed } from '../base/request';
  import { api } from '../base/api';
  import LookList from './LookList.svelte';
  import Specimen from './Specimen.svelte';
  import TypefaceList from './TypefaceList.svelte';
  import { GENERIC, SHIPPED_FAMILIES } from '$lib/core/theme/typefaces';

  let {
    theme: given,
    version: givenVersion,
    uses,
    missing = [],
    children,
  }: {
    theme: Theme;
    version: number;
    /** Templates whose elements name a token, by `group-key`. */
    uses: Record<string, { template: string; elements: number }[]>;
    /** Files of typefaces, by their SHA-256, that are not among the media. */
    missing?: readonly string[];
    /** Below the tokens. */
    children?: Snippet;
  } = $props();
  const allowed = $derived(may('saveTheme'));

  let theme: Theme = $state.raw(untrack(() => given));
  let version = untrack(() => givenVersion);
  let done: Theme[] = $state.raw([]);
  let undone: Theme[] = $state.raw([]);
  let wrong: Record<string, string> = $state({});
  let saving: { is: 'saved' | 'saving' } | { is: 'failed'; why: string } = $state.raw({ is: 'saved' });
  let said = $state('');
  let timer: ReturnType<typeof setTimeout> | undefined;

  const LABELS: Record<TokenGroup, { title: string; about: string }> = {
    colour: { title: 'Colours', about: 'Every ground, text and line is one of these.' },
    font: { title: 'Typefaces', about: 'The first that is there is used; the rest stand in for it.' },
    size: { title: 'Type scale', about: 'Sizes of text, the smallest first.' },
    space: { title: 'Spacing', about: 'Gaps, padding and room between.' },
    radius: { title: 'Corners', about: 'How round they are.' },
    shadow: { title: 'Shadows', about: 'Sideways, down, blur, spread and colour.' },
  };

  function take(next: Theme, keep = true) {
    if (keep) {
      done = [...done, theme];
      undone = [];
    }
    theme = next;
    saving = { is: 'saving' };
    clearTimeout(timer);
    timer = setTimeout(() => void save(), 400);
  }
  async function save() {
    const sent = theme;
    try {
      const answer = await api('PUT /theme', { body: { theme: sent, version } });
      version = answer.version;
      if (theme === sent) saving = { is: 'saved' };
      else timer = setTimeout(() => void save(), 400);
    } catch (error) {
      const failed = error as RequestFailed;
      saving = { is: 'failed', why: failureWords(error) };
      if (failed.status === 0) timer = setTimeout(() => void save(), 3000);
    }
  }
  function undo() {
    const before = done.at(-1);
    if (!before) return;
    done = done.slice(0, -1);
    undone = [...undone, theme];
    take(before, false);
  }
  function redo() {
    const next = undone.at(-1);
    if (!next) return;
    undone = undone.slice(0, -1);
    done = [...done, theme];
    take(next, false);
  }

  /** Changes one token; what cannot be is told beside it, and nothing is taken. */
  function set(group: TokenGroup, index: number, change: { name?: string; value?: unknown }) {
    const list = theme[group].map((token, i) => (i === index ? { ...token, ...change } : token));
    const checked = ThemeSchema.shape[group].safeParse(list);
    const place = `${group} ${index}`;
    if (!checked.success) {
      wrong[place] = checked.error.issues[0]?.message ?? 'This cannot be set so.';
      return;
    }
    delete wrong[place];
    take({ ...theme, [group]: checked.data } as Theme);
  }
  function add(group: TokenGroup) {
    const list = theme[group] as { key: string; name: string; value: unknown }[];
    const name = `New ${LABELS[group].title.toLowerCase().replace(/s$/, '')}`;
    let key = keyOf(name, 'token').replace(/_/g, '-');
    for (let n = 2; list.some((token) => token.key === key); n++)
      key = `${keyOf(name, 'token').replace(/_/g, '-')}-${n}`;
    take({ ...theme, [group]: [...list, { key, name, value: list.at(-1)?.value }] } as Theme);
  }
  const usedIn = (key: string) =>
    [
      ...(uses[key] ?? []).map(
        ({ template, elements }) => `${template} (${elements} element${elements === 1 ? '' : 's'})`,
      ),
      ...theme.looks.filter(({ style }) => tokensIn(style).includes(key)).map(({ name }) => `the look ${name}`),
    ].join(', ');
  function remove(group: TokenGroup, index: number) {
    const token = theme[group][index];
    if (!token) return;
    take({ ...theme, [group]: (theme[group] as { key: string }[]).filter((_, at) => at !== index) } as Theme);
    const where = usedIn(`${group}-${token.key}`);
    said = where
      ? `“${token.name}” was used in ${where}. These look there as if nothing were set. Undo brings it back.`
      : '';
  }
  const isBuiltIn = (group: TokenGroup, key: string) =>
    (BUILT_IN[group] as { key: string }[]).some((token) => token.key === key);
  const shadowSet = (index: number, shadow: Shadow, part: Partial<Shadow>) =>
    set('shadow', index, { value: { ...shadow, ...part } });

  const colourOf = (key: string) => theme.colour.find((token) => token.key === key)?.value ?? '#000000';
  const pairs = $derived(
    [
      ['ink', 'ground'],
      ['quiet', 'ground'],
      ['accent', 'ground'],
      ['ink', 'tint'],
      ['ink', 'notice'],
      ['on-deep', 'deep'],
      ['on-accent', 'accent'],
    ].map(([text, ground]) => ({
      text: text as string,
      ground: ground as string,
      ratio: contrast(colourOf(text as string), colourOf(ground as string)),
    })),
  );

  function download() {
    const file = new Blob([`${JSON.stringify(toDesignTokens(theme), null, 2)}\n`], { type: 'application/json' });
    const link = document.createElement('a');
    link.href = URL.createObjectURL(file);
    link.download = 'theme.tokens.json';
    link.click();
    URL.revokeObjectURL(link.href);
  }
  async function upload(event: Event) {
    const input = event.currentTarget as HTMLInputElement;
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    said = '';
    let json: unknown;
    try {
      json = JSON.parse(await file.text());
    } catch {
      said = `“${file.name}” is no JSON.`;
      return;
    }
    const read = fromDesignTokens(json);
    if (!read.ok) {
      said = read.problems.map(({ at, what, fix }) => [at && `${at}:`, what, fix].filter(Boolean).join(' ')).join(' ');
      return;
    }
    // Tokens that the file does not name stay as they are.
    const merged = {
      ...theme,
      ...Object.fromEntries(
        TOKEN_GROUPS.map((group) => {
          const own = read.value.theme[group] as { key: string }[];
          const kept = (theme[group] as { key: string }[]).filter(({ key }) => !own.some((token) => token.key === key));
          return [group, [...kept, ...own]];
        }),
      ),
    } as Theme;
    const looksRead = read.value.theme.looks;
    merged.looks = [...theme.looks.filter(({ key }) => !looksRead.some((look) => look.key === key)), ...looksRead];
    // In the order in which they stood.
    for (const group of TOKEN_GROUPS) {
      const order = (theme[group] as { key: string }[]).map(({ key }) => key);
      (merged[group] as { key: string }[]).sort(
        (a, b) => (order.indexOf(a.key) + 1 || 999) - (order.indexOf(b.key) + 1 || 999),
      );
    }
    take(completeTheme(merged));
    const count = TOKEN_GROUPS.reduce((n, group) => n + read.value.theme[group].length, 0);
    said = `Took ${count} tokens from “${file.name}”.${read.value.left.length ? ` Left out, since themes have no place for them: ${read.value.left.join(', ')}.` : ''}`;
  }
  function onKey(event: KeyboardEvent) {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
    event.preventDefault();
    if (event.shiftKey) redo();
    else undo();
  }
</script>

<svelte:window onkeydown={onKey} />
<svelte:head><title>Theme · Plum Thread</title></svelte:head>

<div class="flex h-10 shrink-0 items-center gap-2 border-b border-hairline bg-paper px-4">
  <h1 class="font-display text-base font-medium">Theme</h1>
  <span class="text-faded">Every use of a token follows at once.</span>
  {#if allowed}<span class="ml-auto" role="status" data-save={saving.is}>
      {#if saving.is === 'saved'}<span class="text-moss">Saved</span>
      {:else if saving.is === 'failed'}<span class="rounded-sm bg-ochre px-2 py-0.5">Not saved: {saving.why}</span>
      {:else}<span class="text-faded">Saving</span>{/if}
    </span>
    <button
      type="button"
      aria-label="Undo"
      aria-disabled={!done.length}
      class="rounded-sm p-1 hover:bg-linen aria-disabled:opacity-40"
      onclick={undo}><Undo2 size={17} /></button
    >
    <button
      type="button"
      aria-label="Redo"
      aria-disabled={!undone.length}
      class="rounded-sm p-1 hover:bg-linen aria-disabled:opacity-40"
      onclick={redo}><Redo2 size={17} /></button
    >{:else}<span class="ml-auto text-faded">A designer changes it.</span>{/if}
  <Button onclick={download}><Download size={14} />Design tokens</Button>
  {#if allowed}<label
      class="inline-flex h-7 cursor-pointer items-center gap-1.5 rounded-sm border border-hairline bg-paper px-2.5 font-medium focus-within:outline-2 focus-within:outline-plum hover:border-faded"
      ><Upload size={14} />Take tokens from a file<input
        type="file"
        accept=".json,application/json"
        class="sr-only"
        onchange={upload}
      /></label
    >{/if}
</div>
{#if said}<p role="alert" class="bg-ochre px-4 py-1.5">{said}</p>{/if}

<main class="grid min-h-0 grow grid-cols-[minmax(0,34rem)_minmax(0,1fr)]">
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div
    class="min-h-0 overflow-y-auto border-r border-hairline px-4 py-4"
    role="region"
    aria-label="Tokens"
    tabindex="0"
  >
    <LookOnly {allowed}>
      {#each TOKEN_GROUPS as group (group)}
        <section class="mb-6">
          <div class="flex items-baseline gap-3">
            <h2 class="font-display text-lg font-medium">{LABELS[group].title}</h2>
            <p class="text-xs text-faded">{LABELS[group].about}</p>
            <button
              type="button"
              class="ml-auto flex items-center gap-1 rounded-sm px-1.5 text-faded hover:bg-linen-deep hover:text-ink"
              onclick={() => add(group)}><Plus size={13} />Add</button
            >
          </div>
          <ul class="mt-1">
            {#each theme[group] as token, i (token.key)}
              {@const value = token.value}
              <li class="flex flex-wrap items-center gap-2 border-b border-hairline/60 py-1">
                <input
                  class="w-28 border-transparent! bg-transparent! hover:border-hairline!"
                  aria-label="Name of {token.key}"
                  value={token.name}
                  onchange={(e) => set(group, i, { name: e.currentTarget.value })}
                />
                <code class="w-20 truncate font-mono text-xs text-faded" title={token.key}>{token.key}</code>
                {#if group === 'colour'}
                  <input
                    type="color"
                    class="h-7 w-9 cursor-pointer p-0.5!"
                    aria-label="{token.name}, chosen by eye"
                    value={String(value).slice(0, 7)}
                    oninput={(e) => set(group, i, { value: e.currentTarget.value + String(value).slice(7) })}
                  />
                  <input
                    class="w-28 font-mono text-xs"
                    aria-label={token.name}
                    value={String(value)}
                    onchange={(e) => set(group, i, { value: e.currentTarget.value.trim().toLowerCase() })}
                  />
                {:else if Array.isArray(value)}
                  <input
                    class="min-w-0 flex-1"
                    aria-label={token.name}
                    value={value.join(', ')}
                    onchange={(e) =>
                      set(group, i, {
                        value: e.currentTarget.value
                          .split(',')
                          .map((font) => font.trim())
                          .filter(Boolean),
                      })}
                  />
                  <select
                    class="w-26 shrink-0"
                    aria-label="{token.name}, the first"
                    value=""
                    onchange={(e) => {
                      const first = e.currentTarget.value;
                      e.currentTarget.value = '';
                      // What stood first goes; what stands in for it stays.
                      const rest = value.filter((one) => one !== first);
                      const kept = GENERIC.test(rest[0] ?? '') || value.includes(first) ? rest : rest.slice(1);
                      set(group, i, { value: [first, ...kept] });
                    }}
                  >
                    <option value="" disabled>Begin with</option>
                    {#each [...theme.typefaces.map(({ family }) => family), ...SHIPPED_FAMILIES] as family (family)}
                      <option value={family} disabled={value[0] === family}>{family.replace(/ Variable$/, '')}</option>
                    {/each}
                  </select>
                {:else if typeof value === 'object'}
                  {#each [{ part: 'x' as const, words: 'sideways' }, { part: 'y' as const, words: 'down' }, { part: 'blur' as const, words: 'blur' }, { part: 'spread' as const, words: 'spread' }] as one (one.part)}
                    <input
                      class="w-14"
                      aria-label="{token.name}, {one.words}"
                      title={one.words}
                      value={value[one.part]}
                      onchange={(e) => shadowSet(i, value, { [one.part]: e.currentTarget.value.trim() })}
                    />
                  {/each}
                  <input
                    class="w-24 font-mono text-xs"
                    aria-label="{token.name}, colour"
                    value={value.colour}
                    onchange={(e) => shadowSet(i, value, { colour: e.currentTarget.value.trim().toLowerCase() })}
                  />
                {:else}
                  <input
                    class="w-24"
                    aria-label={token.name}
                    value={String(value)}
                    onchange={(e) => set(group, i, { value: e.currentTarget.value.trim() })}
                  />
                  {#if group === 'space'}<span class="h-3 bg-plum/30" style="width:min({value}, 9rem)"></span>{/if}
                  {#if group === 'radius'}<span
                      class="h-6 w-12 border-2 border-plum/50"
                      style="border-radius:min({value}, 12px)"
                    ></span>{/if}
                {/if}
                {#if !isBuiltIn(group, token.key)}
                  <button
                    type="button"
                    class="ml-auto rounded-sm p-1 text-faded hover:bg-linen-deep"
                    aria-label="Take {token.name} away"
                    title={uses[`${group}-${token.key}`]?.length ? 'Used in templates' : 'Not used in any template'}
                    onclick={() => remove(group, i)}><X size={13} /></button
                  >
                {/if}
                {#if wrong[`${group} ${i}`]}<p role="alert" class="w-full text-madder">{wrong[`${group} ${i}`]}</p>{/if}
              </li>
            {/each}
          </ul>
          {#if group === 'font'}
            <TypefaceList
              {theme}
              {missing}
              ontypefaces={(typefaces) => take({ ...theme, typefaces })}
              onremoved={({ family }) => {
                const stacks = theme.font.filter(({ value }) => value.includes(family)).map(({ name }) => name);
                said = stacks.length
                  ? `“${family}” stands in ${stacks.join(', ')}. What follows it there is used. Undo brings it back.`
                  : '';
              }}
            />
          {/if}
          {#if group === 'colour'}
            <ul class="mt-2 flex flex-wrap gap-1.5" aria-label="Contrast of text on its ground">
              {#each pairs as pair (pair.text + pair.ground)}
                <li
                  class="rounded-sm border border-hairline px-2 py-0.5 text-xs"
                  style="color:{colourOf(pair.text)}; background:{colourOf(pair.ground)}"
                  title="{pair.text} on {pair.ground}: 4.5 is needed for text (WCAG 2.2, 1.4.3)"
                >
                  {pair.text} on {pair.ground}
                  {pair.ratio.toFixed(1)}{pair.ratio < 4.5 ? ', too low' : ''}
                </li>
              {/each}
            </ul>
          {/if}
        </section>
      {/each}
      <LookList
        {theme}
        {uses}
        onlooks={(looks) => take({ ...theme, looks })}
        onremoved={(look) => {
          const where = usedIn(`look-${look.key}`);
          said = where
            ? `“${look.name}” was on ${where}. These look there as if it said nothing. Undo brings it back.`
            : '';
        }}
      />
    </LookOnly>
    {#if allowed}{@render children?.()}{/if}
  </div>
  <Specimen {theme} />
</main>
