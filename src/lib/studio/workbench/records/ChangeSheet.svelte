<script lang="ts">
  import { untrack } from 'svelte';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import ValueInput from '../../values/ValueInput.svelte';
  import { suppose, type Changeable } from '../state/suppose';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, target, onclose }: { wb: Workbench; target: Changeable | undefined; onclose: () => void } = $props();

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
      if (now) value = now.value;
    });
  });

  async function save(event?: Event) {
    event?.preventDefault();
    if (!record || !target) return;
    if (!target.kept || wb.looking) return take();
    busy = true;
    wrong = (await wb.correct(record, target.field.id, value ?? null)) ?? '';
    busy = false;
    if (wrong) return;
    // What is written now is no longer supposed.
    wb.preview.letGo(record.id, target.step);
    onclose();
  }
  function take() {
    if (!target) return;
    wrong = suppose(wb, target, value ?? null) ?? '';
    if (!wrong) onclose();
  }
</script>

<Sheet bind:open title="Change a value" onclose={() => onclose()}>
  {#if field && record && target}
    <form class="flex flex-col gap-3" onsubmit={save}>
      <p class="text-faded">
        {record.title}. {target.kept && !wb.looking
          ? 'What you save changes the record itself: every page that shows it follows. What you suppose is seen here alone, and stored nowhere.'
          : 'What you suppose is seen here alone, and stored nowhere.'}
      </p>
      <div class="flex flex-col gap-1">
        <label class="font-medium" for="change-value">{field.label}</label>
        {#key record.id}
          <ValueInput
            {field}
            {value}
            id="change-value"
            invalid={Boolean(wrong)}
            describedby={wrong ? 'change-wrong' : undefined}
            onchange={(next) => (value = next)}
          />
        {/key}
        {#if wrong}<p id="change-wrong" role="alert" class="text-madder">{wrong}</p>{/if}
      </div>
      <div class="flex justify-end gap-2">
        <Button onclick={() => onclose()}>Cancel</Button>
        {#if target.kept && !wb.looking}
          <Button disabled={busy} onclick={take}>Suppose it</Button>
          <Button tone="main" type="submit" disabled={busy}>Save the value</Button>
        {:else}<Button tone="main" type="submit">Suppose it</Button>{/if}
      </div>
    </form>
  {/if}
</Sheet>
