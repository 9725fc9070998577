<script lang="ts">
  import SeenAtOnce from './SeenAtOnce.svelte';
  import { keyOf } from '$lib/core/base/text';
  import { kindNamed } from '$lib/core/model/kinds';
  import type { Field } from '$lib/core/model/model';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';

  interface Preview {
    kept: number;
    lost: number;
    empty: number;
    examples: { title: string; before: string; after: string | null }[];
    released: { template: string; pages: number }[];
  }

  let {
    before,
    after,
    typeId,
    onclose,
    onchange,
  }: { before: Field; after: Field; typeId: string; onclose: () => void; onchange: (field: Field) => void } = $props();

  let open = $state(true);
  let preview: Preview | undefined = $state();
  let failed = $state('');
  const words = (kind: string) => kindNamed(kind)?.label ?? kind;

  $effect(() => {
    const asked = { ...after, label: after.label || before.label, key: after.key || keyOf(after.label, 'field') };
    // Some kinds have to be set up first; until then the values that are there stand in.
    const kind = kindNamed(after.kind);
    if (kind?.unset && !kind.settings.safeParse(after.settings).success) {
      failed = kind.unset;
      return;
    }
    void api('POST /types/{typeId}/preview', { typeId, body: asked })
      .then((answer) => (preview = answer))
      .catch((error: unknown) => (failed = failureWords(error)));
  });
  $effect(() => {
    if (!open) onclose();
  });
</script>

<Sheet
  bind:open
  title="“{before.label}” as {words(after.kind).toLowerCase()}"
  about="It is {words(before.kind).toLowerCase()} now. Values are converted when you save the content type."
>
  {#if preview}
    <p>
      <strong class="text-moss">{preview.kept} kept</strong>,
      <strong class={preview.lost ? 'text-madder' : ''}>{preview.lost} lost</strong>, {preview.empty} empty.
    </p>
    <SeenAtOnce done="Converted" released={preview.released} />
    {#if preview.examples.length}
      <table class="mt-2 w-full text-left text-xs">
        <thead class="dye-label"
          ><tr
            ><th class="pr-2 font-semibold">Record</th><th class="pr-2 font-semibold">Now</th><th class="font-semibold"
              >Then</th
            ></tr
          ></thead
        >
        <tbody>
          {#each preview.examples as example, i (i)}
            <tr class="border-t border-hairline align-top"
              ><td class="max-w-36 truncate py-1 pr-2">{example.title}</td><td class="max-w-40 truncate pr-2"
                >{example.before}</td
              ><td class={example.after === null ? 'text-madder' : ''}>{example.after ?? 'lost'}</td></tr
            >
          {/each}
        </tbody>
      </table>
    {/if}
  {:else if failed}<p class="text-weld">{failed}</p>{:else}<p class="text-faded">Looking at the values …</p>{/if}
  <div class="mt-4 flex gap-2">
    <Button tone="main" onclick={() => onchange(after)}
      >{preview?.lost ? `Change it and lose ${preview.lost}` : 'Change the kind'}</Button
    >
    <Button onclick={() => (open = false)}>Leave it</Button>
  </div>
</Sheet>
