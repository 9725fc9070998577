<script lang="ts">
  import ThemeScreen from '$lib/studio/theme/Theme.svelte';
  import ThemeFile from '$lib/studio/theme/ThemeFile.svelte';

  let { data } = $props();
</script>

{#key data.version}
  <ThemeScreen theme={data.theme} version={data.version} uses={data.uses} missing={data.missing}>
    <ThemeFile model={data.model} />
  </ThemeScreen>
{/key}
