<script lang="ts">
  import type { Snippet } from 'svelte';

  /** The one page that people see who are not signed in: a sheet of paper on linen, held by three stitches. */
  let { title, children }: { title: string; children: Snippet } = $props();
</script>

<svelte:head><title>{title} · Plum Thread</title></svelte:head>

<main class="flex min-h-screen flex-col items-center px-6 pt-[9vh] pb-10">
  <p class="font-display text-2xl font-medium text-plum">Plum Thread</p>
  <div class="mt-5 w-full max-w-[25rem] rounded-md border border-hairline bg-paper px-7 pt-6 pb-7">
    <svg aria-hidden="true" viewBox="0 0 120 8" class="mb-4 h-2 w-[7.5rem] text-madder">
      <path d="M0 4h28M46 4h28M92 4h28" stroke="currentColor" stroke-width="2" stroke-linecap="round" />
    </svg>
    <h1 class="text-2xl font-medium">{title}</h1>
    {@render children()}
  </div>
</main>
