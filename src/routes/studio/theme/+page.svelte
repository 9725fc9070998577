<script lang="ts">
  import ThemeScreen from '$lib/studio/theme/Theme.svelte';

  let { data } = $props();
</script>

<ThemeScreen theme={data.theme} version={data.version} uses={data.uses} />
