<script lang="ts">
  import { GripVertical } from '@lucide/svelte';
  import { Combobox } from 'bits-ui';
  import { untrack } from 'svelte';
  import { dragHandle, dragHandleZone } from 'svelte-dnd-action';
  import type { ContentRecord } from '$lib/core/schema/record';
  import { send } from '$lib/studio/request';
  import type { InputProps } from './input';

  type Titled = Pick<ContentRecord, 'id' | 'title' | 'typeId' | 'status'>;

  let { field, settings, value, id, invalid, describedby, onchange }: InputProps = $props();

  const typeIds = $derived((settings.typeIds ?? []) as string[]);
  const many = $derived(settings.many !== false);
  const ids = $derived(Array.isArray(value) ? (value as number[]) : []);
  let known: Record<number, Titled> = $state({});
  let found: Titled[] = $state([]);
  let search = $state('');
  let open = $state(false);
  let items: { id: number }[] = $state([]);
  let failed = $state('');

  $effect(() => {
    const wanted = ids;
    untrack(() => {
      if (items.map((item) => item.id).join() !== wanted.join()) items = wanted.map((one) => ({ id: one }));
      const missing = wanted.filter((one) => !known[one]);
      if (missing.length)
        void send<Titled[]>('GET', `/api/v1/records/titles?ids=${missing.join(',')}`)
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
    try {
      const list = await send<Titled[]>(
        'GET',
        `/api/v1/records/titles?${new URLSearchParams({ types: typeIds.join(','), search: text })}`,
      );
      if (own === asked) found = list.filter((one) => !ids.includes(one.id));
      failed = '';
    } catch (error) {
      failed = (error as Error).message;
    }
  }

  function add(one: number) {
    const record = found.find((r) => r.id === one);
    if (!record) return;
    known[one] = record;
    onchange(many ? [...ids, one] : [one]);
    found = found.filter((r) => r.id !== one);
  }
</script>

<div class="flex flex-col gap-1.5">
  {#if items.length}
    <ol
      class="flex flex-wrap gap-1.5"
      aria-label={field.label}
      use:dragHandleZone={{ items, flipDurationMs: 120, type: id, dropTargetStyle: {} }}
      onconsider={(e) => (items = e.detail.items)}
      onfinalize={(e) => {
        items = e.detail.items;
        onchange(items.map((item) => item.id));
      }}
    >
      {#each items as item (item.id)}
        {@const record = known[item.id]}
        <li class="flex items-center rounded-sm border border-hairline bg-paper">
          {#if many && items.length > 1}<span
              use:dragHandle
              class="flex size-6 cursor-grab items-center justify-center text-faded"
              aria-label="Move {record?.title ?? item.id}"><GripVertical size={14} /></span
            >{/if}
          <a
            class="max-w-72 truncate px-1.5 py-0.5 underline-offset-2 hover:underline"
            href={record ? `/studio/content/${record.typeId}/${record.id}` : undefined}
            >{record?.title ?? `Record ${item.id}`}{record?.status === 'draft' ? ' (draft)' : ''}</a
          >
          <button
            type="button"
            class="size-6 text-faded hover:text-madder"
            aria-label="Take {record?.title ?? item.id} away"
            onclick={() => {
              const left = ids.filter((one) => one !== item.id);
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
      if (chosen) add(Number(chosen));
      search = '';
    }}
    onOpenChange={(now) => now && void find(search)}
  >
    <Combobox.Input
      {id}
      class="w-72 max-w-full"
      placeholder={many || !ids.length ? 'Add by title' : 'Take another by title'}
      aria-invalid={invalid}
      aria-describedby={describedby}
      oninput={(e) => void find(e.currentTarget.value)}
      onfocus={() => (open = true)}
      clearOnDeselect
    />
    <Combobox.Portal>
      <Combobox.Content
        sideOffset={4}
        class="z-50 max-h-72 w-80 overflow-y-auto rounded-sm border border-hairline bg-paper py-1"
      >
        {#each found as record (record.id)}
          <Combobox.Item
            value={String(record.id)}
            label={record.title}
            class="truncate px-2.5 py-1 data-highlighted:bg-linen-deep"
            >{record.title}{record.status === 'draft' ? ' (draft)' : ''}</Combobox.Item
          >
        {:else}
          <p class="px-2.5 py-1 text-faded">{failed || 'Nothing is called so.'}</p>
        {/each}
      </Combobox.Content>
    </Combobox.Portal>
  </Combobox.Root>
</div>
