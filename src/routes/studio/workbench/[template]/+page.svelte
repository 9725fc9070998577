<script lang="ts">
  import WorkbenchScreen from '$lib/studio/workbench/Workbench.svelte';

  let { data } = $props();
</script>

{#key data.template.id}<WorkbenchScreen {data} />{/key}
