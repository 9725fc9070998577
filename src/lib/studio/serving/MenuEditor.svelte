<script lang="ts">
  import { ArrowDown, ArrowLeft, ArrowRight, ArrowUp, X } from '@lucide/svelte';
  import { newId } from '$lib/core/base/ids';
  import { plainField } from '$lib/core/model/field';
  import { menuRows, moveEntry, withEntry } from '$lib/core/model/menu';
  import type { Destination, Menu, MenuEntry } from '$lib/core/schema/menu';
  import { indexModel } from '$lib/core/model/model';
  import type { Model } from '$lib/core/schema/model';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import RecordsInput from '$lib/studio/values/RecordsInput.svelte';

  let {
    menu,
    model,
    titles,
    onsaved,
  }: { menu: Menu; model: Model; titles: { id: number; title: string }[]; onsaved: (menu: Menu) => void } = $props();

  // svelte-ignore state_referenced_locally
  let name = $state(menu.name);
  // svelte-ignore state_referenced_locally
  let entries: MenuEntry[] = $state.raw(menu.entries);
  // svelte-ignore state_referenced_locally
  let version = menu.version;
  let saving = $state<'saved' | 'saving' | 'changed'>('saved');
  let failed = $state('');
  const index = $derived(indexModel(model));
  const rows = $derived(menuRows(entries));
  const anyType = plainField('leads', 'Record', 'relation');

  let timer: ReturnType<typeof setTimeout> | undefined;
  function changed(next: MenuEntry[]) {
    entries = next;
    saving = 'changed';
    clearTimeout(timer);
    timer = setTimeout(() => void save(), 500);
  }
  async function save() {
    saving = 'saving';
    failed = '';
    const sent = entries;
    try {
      const stored = await api('PUT /menus/{menuId}', { menuId: menu.id, body: { name, entries, version } });
      version = stored.version;
      if (sent === entries) saving = 'saved';
      onsaved(stored);
    } catch (error) {
      failed = failureWords(error);
      saving = 'changed';
    }
  }

  const WORDS = { up: 'Move up', down: 'Move down', in: 'Put below the one before', out: 'Put a level up' } as const;
  const SIGNS = { up: ArrowUp, down: ArrowDown, in: ArrowRight, out: ArrowLeft };
  const KEYS: Record<string, keyof typeof WORDS> = {
    ArrowUp: 'up',
    ArrowDown: 'down',
    ArrowRight: 'in',
    ArrowLeft: 'out',
  };

  /** What an entry is called where it has no words of its own. */
  function called({ leads }: MenuEntry): string {
    switch (leads.to) {
      case 'front':
        return 'Home';
      case 'search':
        return 'Search';
      case 'record':
        return titles.find(({ id }) => id === leads.recordId)?.title ?? 'the title of the record';
      case 'type':
        return index.type(leads.typeId)?.plural ?? 'gone';
      case 'term':
        return index.term(leads.termId)?.name ?? 'gone';
      case 'author':
        return index.author(leads.authorId)?.name ?? 'gone';
      case 'link':
        return 'Words are needed';
    }
  }
  function lead(id: string, value: string) {
    const [to = '', of = ''] = value.split(' ');
    const made: Record<string, Destination> = {
      front: { to: 'front' },
      search: { to: 'search' },
      type: { to: 'type', typeId: of },
      term: { to: 'term', termId: of },
      author: { to: 'author', authorId: Number(of) },
      link: { to: 'link', url: 'https://' },
    };
    if (to === 'record') choosing = id;
    else if (made[to]) put(id, { leads: made[to] });
  }
  const put = (id: string, change: Partial<MenuEntry>) =>
    changed(withEntry(entries, id, (entry) => ({ ...entry, ...change })));
  /** The entry whose record is being chosen. */
  let choosing = $state('');
  const valueOf = (entry: MenuEntry): string => {
    const { leads } = entry;
    if (choosing === entry.id) return 'record';
    if (leads.to === 'type') return `type ${leads.typeId}`;
    if (leads.to === 'term') return `term ${leads.termId}`;
    if (leads.to === 'author') return `author ${leads.authorId}`;
    return leads.to;
  };
</script>

<div class="flex items-center gap-3">
  <input
    class="font-display text-xl font-medium"
    aria-label="Name of the menu"
    bind:value={name}
    onchange={() => changed(entries)}
  />
  <span class="ml-auto {failed ? 'text-madder' : 'text-faded'}" role="status" data-save={saving}
    >{failed ? `Not saved: ${failed}` : { saved: 'Saved', saving: 'Saving', changed: 'Saving soon' }[saving]}</span
  >
</div>
<ul class="mt-3 border border-hairline bg-paper" aria-label="Entries">
  {#each rows as { entry, depth, at, of } (entry.id)}
    <li
      class="flex flex-wrap items-center gap-2 border-t border-hairline px-2 py-1.5 first:border-t-0"
      style="padding-left:{8 + depth * 28}px"
    >
      <input
        class="w-44"
        aria-label="Words"
        placeholder={called(entry)}
        value={entry.label ?? ''}
        onchange={(e) => put(entry.id, { label: e.currentTarget.value.trim() || undefined })}
        onkeydown={(e) => {
          const how = e.altKey ? KEYS[e.key] : undefined;
          if (!how) return;
          e.preventDefault();
          changed(moveEntry(entries, entry.id, how));
        }}
      />
      <span class="text-faded">leads to</span>
      <select
        aria-label="Leads to"
        class="max-w-56 min-w-0"
        value={valueOf(entry)}
        onchange={(e) => lead(entry.id, e.currentTarget.value)}
      >
        <option value="front">The front page</option>
        <option value="search">The search</option>
        <option value="record">A record …</option>
        <option value="link">An address …</option>
        <optgroup label="Archives">
          {#each index.types as type (type.id)}<option value="type {type.id}">{type.plural}</option>{/each}
        </optgroup>
        {#each index.taxonomies as taxonomy (taxonomy.id)}
          <optgroup label={taxonomy.name}>
            {#each index.termsOf(taxonomy.id) as term (term.id)}<option value="term {term.id}"
                >{' '.repeat(index.above(term.id).length - 1)}{term.name}</option
              >{/each}
          </optgroup>
        {/each}
        {#if index.authors.length}
          <optgroup label="Authors">
            {#each index.authors as author (author.id)}<option value="author {author.id}">{author.name}</option>{/each}
          </optgroup>
        {/if}
      </select>
      {#if entry.leads.to === 'link'}
        <input
          class="min-w-48 grow font-mono text-xs"
          aria-label="Address"
          value={entry.leads.url}
          onchange={(e) => put(entry.id, { leads: { to: 'link', url: e.currentTarget.value } })}
        />
      {:else if entry.leads.to === 'record' || choosing === entry.id}
        <div class="min-w-48 grow">
          <RecordsInput
            field={anyType}
            settings={{ typeIds: index.types.map(({ id }) => id), many: false }}
            value={entry.leads.to === 'record' ? [entry.leads.recordId] : []}
            id="record-{entry.id}"
            invalid={false}
            onchange={(value) => {
              const [recordId] = (value ?? []) as number[];
              choosing = '';
              if (recordId) put(entry.id, { leads: { to: 'record', recordId } });
            }}
          />
        </div>
      {/if}
      <span class="ml-auto flex shrink-0">
        {#each ['up', 'down', 'out', 'in'] as const as how (how)}
          {@const Sign = SIGNS[how]}
          <button
            type="button"
            class="rounded-sm p-1.5 hover:bg-linen-deep disabled:opacity-35"
            disabled={how === 'up' || how === 'in' ? at === 0 : how === 'down' ? at === of - 1 : depth === 0}
            aria-label="{WORDS[how]}: {entry.label || called(entry)}"
            title="{WORDS[how]} (Alt and the arrow)"
            onclick={() => changed(moveEntry(entries, entry.id, how))}><Sign size={14} /></button
          >
        {/each}
        <button
          type="button"
          class="rounded-sm p-1.5 hover:bg-linen-deep"
          aria-label="Take out: {entry.label || called(entry)}"
          title="Take it out, with what is below it"
          onclick={() => changed(withEntry(entries, entry.id, () => undefined))}><X size={14} /></button
        >
      </span>
    </li>
  {:else}<li class="px-3 py-2 text-faded">Nothing stands in it yet.</li>{/each}
</ul>
<button
  type="button"
  class="mt-2 text-plum underline underline-offset-2"
  onclick={() => changed([...entries, { id: newId('entry'), leads: { to: 'front' }, below: [] }])}>Add an entry</button
>
