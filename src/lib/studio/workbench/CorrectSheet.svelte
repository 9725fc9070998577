<script lang="ts">
  import { untrack } from 'svelte';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import ValueInput from '../values/ValueInput.svelte';
  import type { Correctable } from './correct';
  import type { Workbench } from './workbench.svelte';

  let { wb, target, onclose }: { wb: Workbench; target: Correctable | undefined; onclose: () => void } = $props();

  let open = $state(false);
  let value: unknown = $state.raw();
  let wrong = $state('');
  let busy = $state(false);
  const field = $derived(target?.field);
  const record = $derived(target && (wb.records.find((one) => one.id === target.record.id) ?? target.record));

  $effect(() => {
    const now = target;
    untrack(() => {
      open = now !== undefined;
      wrong = '';
      if (now) value = now.field.id === '@title' ? now.record.title : now.record.values[now.field.id];
    });
  });

  async function save(event?: Event) {
    event?.preventDefault();
    if (!record || !field) return;
    busy = true;
    wrong = (await wb.correct(record, field.id, value ?? null)) ?? '';
    busy = false;
    if (!wrong) onclose();
  }
</script>

<Sheet bind:open title="Correct a value" onclose={() => onclose()}>
  {#if field && record}
    <form class="flex flex-col gap-3" onsubmit={save}>
      <p class="text-faded">
        {record.title}. What you change here is the record itself: every page that shows it follows.
      </p>
      <div class="flex flex-col gap-1">
        <label class="font-medium" for="correct-value">{field.label}</label>
        {#key record.id}
          <ValueInput
            {field}
            {value}
            id="correct-value"
            invalid={Boolean(wrong)}
            describedby={wrong ? 'correct-wrong' : undefined}
            onchange={(next) => (value = next)}
          />
        {/key}
        {#if wrong}<p id="correct-wrong" role="alert" class="text-madder">{wrong}</p>{/if}
      </div>
      <div class="flex justify-end gap-2">
        <Button onclick={() => onclose()}>Cancel</Button>
        <Button tone="main" type="submit" disabled={busy}>Save the value</Button>
      </div>
    </form>
  {/if}
</Sheet>
