<script lang="ts">
  import { typesServed } from '$lib/core/templates/served';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb }: { wb: Workbench } = $props();

  const answered = $derived(wb.preview.answered);
  /** Of types that have more records than are here it is counted beside, over all of them. */
  const some = $derived(typesServed(wb.template, wb.index).some((id) => wb.partial[id] !== undefined));
  const counted = $derived(some ? wb.survey.answered : answered);
  const words = (n: number | undefined, here: number) =>
    n === undefined
      ? `${here.toLocaleString('en')} of the first ${answered.all.toLocaleString('en')}`
      : n.toLocaleString('en');
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
    >{part ? 'Published' : 'It answers'} {words(counted?.answered, answered.answered)}</option
  >
  <option value="all"
    >{counted ? 'All' : 'The first'} {(counted ?? answered).all.toLocaleString('en')} {wb.plural}, drafts too</option
  >
</select>
