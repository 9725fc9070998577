<script lang="ts">
  import { momentWords } from '$lib/studio/base/site-clock';
  import { failureWords } from '../../base/request';
  import { api } from '../../base/api';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { coloursCss } from '$lib/core/elements/common';
  import { compileTree } from '$lib/core/render/compile';
  import type { Tree } from '$lib/core/schema/element';
  import { drawings } from '../../values/drawings.svelte';
  import VersionPicture from './VersionPicture.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, open = $bindable(false) }: { wb: Workbench; open?: boolean } = $props();

  interface Head {
    id: number;
    version: number;
    saved: string;
    edits: string[];
  }
  let list: Head[] | undefined = $state.raw();
  let failed = $state('');
  let chosen: number | undefined = $state();
  /** What it is compared with; this template as it stands, unless another version is chosen. */
  let against: number | undefined = $state();
  let trees: Record<number, Tree> = $state.raw({});

  $effect(() => {
    if (!open) return;
    failed = '';
    void wb.saving
      .now()
      .then(() => api('GET /templates/{templateId}/versions', { templateId: wb.template.id }))
      .then((heads) => {
        list = heads;
        chosen ??= heads[1]?.id ?? heads[0]?.id;
      })
      .catch((error: unknown) => (failed = failureWords(error)));
  });
  $effect(() => {
    for (const id of [chosen, against])
      if (id !== undefined && !trees[id])
        void api('GET /templates/{templateId}/versions/{version}', { templateId: wb.template.id, version: id })
          .then(({ tree }) => (trees = { ...trees, [id]: tree }))
          .catch((error: unknown) => (failed = failureWords(error)));
  });

  const words = (head: Head) =>
    head.edits.length > 3
      ? `${head.edits.slice(-3).reverse().join('; ')}, and ${head.edits.length - 3} more`
      : head.edits.length
        ? [...head.edits].reverse().join('; ')
        : 'As it was at first';
  const treeOf = (id: number | undefined): Tree | undefined => (id === undefined ? wb.tree : trees[id]);
  const same = $derived(JSON.stringify(treeOf(chosen)) === JSON.stringify(treeOf(against)));

  const page = (tree: Tree) => {
    void drawings.known;
    const made = compileTree(tree, wb.scopes, wb.index, {
      parts: (id) => wb.parts.find((part) => part.id === id),
      id: wb.template.id,
      looks: wb.theme.looks,
    });
    const env = wb.preview.freshEnv();
    const html = made.draw(env);
    return { html, css: made.css + coloursCss(env.colours) };
  };

  function goBack() {
    const head = list?.find((one) => one.id === chosen);
    const tree = treeOf(chosen);
    if (!head || !tree) return;
    wb.replaceTree(tree, `Went back to ${momentWords(head.saved)}`);
    open = false;
  }
</script>

<Sheet
  bind:open
  title="Versions"
  wide
  about="Every sitting is kept. Going back is an edit like any other: undo brings this state back."
>
  {#if failed}<p role="alert" class="text-madder">{failed}</p>{/if}
  <div class="grid grid-cols-[15rem_1fr] gap-4">
    <ul class="max-h-[60vh] overflow-y-auto pr-1" aria-label="Versions, the newest first">
      {#each list ?? [] as head (head.id)}
        <li>
          <button
            type="button"
            aria-pressed={chosen === head.id}
            class="w-full rounded-sm border px-2 py-1.5 text-left {chosen === head.id
              ? 'border-plum bg-linen'
              : 'border-transparent hover:bg-linen'}"
            onclick={() => (chosen = head.id)}
          >
            <span class="block font-medium">{momentWords(head.saved)}</span>
            <span class="line-clamp-3 text-xs text-faded">{words(head)}</span>
          </button>
        </li>
      {:else}<li class="text-faded">
          {list ? 'Nothing has been changed yet.' : failed ? 'They could not be read.' : 'Reading …'}
        </li>{/each}
    </ul>
    <div class="flex min-w-0 flex-col gap-2">
      <div class="grid grid-cols-2 gap-3">
        <p class="flex h-7 items-center font-medium">The version chosen</p>
        <select
          aria-label="Compare with"
          value={against ?? ''}
          onchange={(e) => (against = e.currentTarget.value ? Number(e.currentTarget.value) : undefined)}
        >
          <option value="">As it stands now</option>
          {#each list ?? [] as head (head.id)}<option value={head.id}>{momentWords(head.saved)}</option>{/each}
        </select>
        {#each [chosen, against] as id, i (i)}
          {@const tree = i === 0 && id === undefined ? undefined : treeOf(id)}
          {#if tree}<VersionPicture
              {wb}
              {...page(tree)}
              label={i ? 'Compared with' : 'The version chosen'}
            />{:else}<span></span>{/if}
        {/each}
      </div>
      <div class="flex items-center gap-3">
        <span class="text-faded"
          >{chosen !== undefined && same
            ? 'Both are the same.'
            : `Drawn for ${wb.preview.record?.title ?? 'this page'}.`}</span
        >
        <Button tone="main" class="ml-auto" disabled={chosen === undefined || !treeOf(chosen)} onclick={goBack}
          >Go back to this version</Button
        >
      </div>
    </div>
  </div>
</Sheet>
