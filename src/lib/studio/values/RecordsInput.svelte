<script lang="ts">
  import { leadsToMany, targetsIn } from '$lib/core/model/settings';
  import { Combobox } from 'bits-ui';
  import { tick, untrack } from 'svelte';
  import type { ContentRecord } from '$lib/core/schema/record';
  import Grip from '$lib/ui/carry/Grip.svelte';
  import { ListOrder, moved } from '$lib/ui/carry/list-order.svelte';
  import { api } from '$lib/studio/base/api';
  import type { InputProps } from './input';

  type Titled = Pick<ContentRecord, 'id' | 'title' | 'typeId' | 'status'>;

  let { field, settings, value, id, invalid, describedby, onchange }: InputProps = $props();

  const typeIds = $derived(targetsIn(settings));
  const many = $derived(leadsToMany(settings));
  const ids = $derived(Array.isArray(value) ? (value as number[]) : []);
  let known: Record<number, Titled> = $state({});
  /** What is called as was asked for last, and that. */
  let found: Titled[] = $state.raw([]);
  let by: string | undefined = $state();
  const offered = $derived(found.filter((one) => !ids.includes(one.id)));
  let search = $state('');
  let open = $state(false);
  let failed = $state('');
  const order = new ListOrder(
    () => ids.length,
    (from, gap) => onchange(moved(ids, from, gap)),
  );

  $effect(() => {
    const wanted = ids;
    untrack(() => {
      const missing = wanted.filter((one) => !known[one]);
      if (missing.length)
        void api('GET /records/titles', { query: { ids: missing.join(',') } })
          .then((list) => {
            for (const one of list) known[one.id] = one;
          })
          .catch(() => undefined);
    });
  });

  let asked = 0;
  async function find(text: string) {
    search = text;
    const own = ++asked;
    failed = '';
    try {
      const list = await api('GET /records/titles', { query: { types: typeIds.join(','), search: text } });
      if (own === asked) [found, by] = [list, text];
    } catch (error) {
      if (own === asked) failed = (error as Error).message;
    }
  }

  // Whatever opened it: a press, the keys that came here, or a letter.
  $effect(() => {
    if (open) untrack(() => void find(search));
  });

  function add(one: number) {
    const record = offered.find((r) => r.id === one);
    if (!record) return;
    known[one] = record;
    onchange(many ? [...ids, one] : [one]);
  }
</script>

<div class="flex flex-col gap-1.5">
  {#if ids.length}
    <ol class="flex flex-wrap gap-1.5" aria-label={field.label} {@attach order.list}>
      {#each ids as one, i (one)}
        {@const record = known[one]}
        <li
          class="gap-mark flex items-center rounded-sm border border-hairline bg-paper {order.isMoving(i)
            ? 'opacity-50'
            : ''}"
          data-gap={order.sideOf(i)}
          data-gap-across
        >
          {#if many && ids.length > 1}<Grip label="Move {record?.title ?? one}" hold={order.grip(() => i)} />{/if}
          <a
            class="max-w-72 truncate px-1.5 py-0.5 underline-offset-2 hover:underline"
            href={record ? `/studio/content/${record.typeId}/${record.id}` : undefined}
            >{record?.title ?? `Record ${one}`}{record?.status === 'draft' ? ' (draft)' : ''}</a
          >
          <button
            type="button"
            class="size-6 text-faded hover:text-madder"
            aria-label="Take {record?.title ?? one} away"
            onclick={() => {
              const left = ids.filter((other) => other !== one);
              onchange(left.length ? left : null);
            }}>×</button
          >
        </li>
      {/each}
    </ol>
  {/if}
  <Combobox.Root
    type="single"
    bind:open
    value=""
    onValueChange={(chosen) => {
      if (!chosen) return;
      add(Number(chosen));
      // The library puts the title of what was chosen there, after this.
      search = known[Number(chosen)]?.title ?? '';
      void tick().then(() => (search = ''));
    }}
    inputValue={search}
  >
    <Combobox.Input
      {id}
      class="w-72 max-w-full"
      placeholder={many || !ids.length ? 'Add by title' : 'Take another by title'}
      aria-invalid={invalid}
      aria-describedby={describedby}
      oninput={(e) => {
        // It closed when one was chosen; the next is typed without leaving it.
        open = true;
        void find(e.currentTarget.value);
      }}
      onfocus={() => (open = true)}
      clearOnDeselect
    />
    <Combobox.Portal>
      <Combobox.Content
        sideOffset={4}
        class="z-50 max-h-72 w-80 overflow-y-auto rounded-sm border border-hairline bg-paper py-1"
      >
        {#each offered as record (record.id)}
          <Combobox.Item
            value={String(record.id)}
            label={record.title}
            class="truncate px-2.5 py-1 data-highlighted:bg-linen-deep"
            >{record.title}{record.status === 'draft' ? ' (draft)' : ''}</Combobox.Item
          >
        {:else}
          <p class="px-2.5 py-1 text-faded">
            {failed ||
              (by !== search
                ? 'Looking …'
                : found.length
                  ? 'Those that are called so are chosen.'
                  : 'Nothing is called so.')}
          </p>
        {/each}
      </Combobox.Content>
    </Combobox.Portal>
  </Combobox.Root>
</div>
