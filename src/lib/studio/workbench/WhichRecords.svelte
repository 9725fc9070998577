<script lang="ts">
  import type { Workbench } from './workbench.svelte';

  let { wb }: { wb: Workbench } = $props();

  const answered = $derived(wb.preview.answered);
  const part = $derived(wb.template.purpose === 'part');
</script>

<!-- One set of records for strip, proof sheet, coverage and every count. -->
<select
  aria-label="Which records"
  title="The records that strip, proof sheet, coverage and counts are about"
  class="h-6! shrink-0"
  value={answered.set}
  onchange={(e) => (wb.preview.set = e.currentTarget.value as 'answered' | 'all')}
>
  <option value="answered" disabled={!answered.answered}
    >{part ? 'Published' : 'It answers'} {answered.answered.toLocaleString('en')}</option
  >
  <option value="all">All {answered.all.toLocaleString('en')} {wb.plural}, drafts too</option>
</select>
