<script lang="ts">
  import { Upload, X } from '@lucide/svelte';
  import type { Theme, Typeface } from '$lib/core/schema/theme';
  import type { ResponseOf } from '$lib/client/api';
  import { failureWords } from '../base/request';
  import { api, upload } from '../base/api';

  let {
    theme,
    missing,
    ontypefaces,
    onremoved,
  }: {
    theme: Theme;
    /** Files, by their SHA-256, that are not among the media. */
    missing: readonly string[];
    ontypefaces: (typefaces: Typeface[]) => void;
    onremoved: (typeface: Typeface) => void;
  } = $props();

  type Read = ResponseOf<'GET /media/{mediaId}/typeface'>;

  let coming = $state(0);
  let wrong: string[] = $state([]);
  /** Brought in this visit, and so there again. */
  let brought: string[] = $state([]);

  const weights = ([least, most]: [number, number]) => (least === most ? String(least) : `${least} to ${most}`);
  const usedBy = (family: string) => theme.font.filter(({ value }) => value.includes(family)).map(({ name }) => name);
  const lost = ({ faces }: Typeface) => faces.some(({ file }) => missing.includes(file) && !brought.includes(file));

  /** A family with one more of its files; one with the same weight and slope gives way. */
  function withFace(all: readonly Typeface[], { family, face, metrics, licence }: Read): Typeface[] {
    const known = all.find((one) => one.family === family);
    if (!known) return [...all, { family, faces: [face], metrics, licence }];
    const others = known.faces.filter(
      ({ weight, italic }) => italic !== face.italic || weights(weight) !== weights(face.weight),
    );
    const faces = [...others, face].sort((a, b) => Number(a.italic) - Number(b.italic) || a.weight[0] - b.weight[0]);
    // Measured is what text is set in.
    const plain = !face.italic && face.weight[0] <= 400 && face.weight[1] >= 400;
    return all.map((one) => (one === known ? { ...one, faces, ...(plain && { metrics }) } : one));
  }

  async function bring(files: readonly File[]) {
    wrong = [];
    coming += files.length;
    for (const file of files) {
      try {
        const { id } = await upload('POST /media', { query: { name: file.name } }, file, () => undefined).answer;
        const read = await api('GET /media/{mediaId}/typeface', { mediaId: id });
        brought.push(read.face.file);
        ontypefaces(withFace(theme.typefaces, read));
      } catch (error) {
        wrong.push(failureWords(error));
      } finally {
        coming -= 1;
      }
    }
  }
</script>

<div class="mt-2" data-typefaces>
  <div class="flex items-baseline gap-3">
    <h3 class="font-medium">Brought to this site</h3>
    <label
      class="ml-auto inline-flex h-7 cursor-pointer items-center gap-1.5 rounded-sm border border-hairline bg-paper px-2.5 font-medium focus-within:outline-2 focus-within:outline-plum hover:border-faded"
      ><Upload size={14} />{coming ? 'Reading' : 'Bring a typeface (WOFF2)'}<input
        type="file"
        multiple
        accept=".woff2,font/woff2"
        class="sr-only"
        disabled={coming > 0}
        onchange={(e) => {
          const files = [...(e.currentTarget.files ?? [])];
          e.currentTarget.value = '';
          void bring(files);
        }}
      /></label
    >
  </div>
  {#each wrong as words (words)}<p role="alert" class="mt-1 rounded-sm bg-ochre px-2 py-0.5">{words}</p>{/each}
  {#if !theme.typefaces.length}
    <p class="text-xs text-faded">
      None yet. Each weight, and the italic, is a file of its own; one with all weights in it is enough. Pages are sent
      the pieces they need.
    </p>
  {/if}
  <ul>
    {#each theme.typefaces as typeface (typeface.family)}
      {@const used = usedBy(typeface.family)}
      <li class="border-b border-hairline/60 py-1.5" data-typeface={typeface.family}>
        <div class="flex flex-wrap items-baseline gap-x-3">
          <strong class="font-medium">{typeface.family}</strong>
          <span class="text-xs text-faded"
            >{typeface.faces
              .map(({ weight, italic }) => `${weights(weight)}${italic ? ' italic' : ''}`)
              .join(', ')}{used.length ? ` · in the stack of ${used.join(', ')}` : ' · in no stack yet'}</span
          >
          <button
            type="button"
            class="ml-auto rounded-sm p-1 text-faded hover:bg-linen-deep"
            aria-label="Take the typeface {typeface.family} away"
            onclick={() => {
              ontypefaces(theme.typefaces.filter((one) => one !== typeface));
              onremoved(typeface);
            }}><X size={13} /></button
          >
        </div>
        {#if lost(typeface)}<p class="mt-1 rounded-sm bg-ochre px-2 py-0.5">
            Its file is not among the media here. Bring it again; until then what follows it in the stack is used.
          </p>{/if}
        <details class="mt-0.5">
          <summary class="cursor-pointer text-xs text-faded"
            >{typeface.licence.trim() ? 'Licence' : 'No licence is kept with it'}</summary
          >
          <textarea
            class="mt-1 h-28 w-full text-xs"
            aria-label="Licence of {typeface.family}"
            maxlength="40000"
            value={typeface.licence}
            onchange={(e) =>
              ontypefaces(
                theme.typefaces.map((one) => (one === typeface ? { ...one, licence: e.currentTarget.value } : one)),
              )}
          ></textarea>
        </details>
      </li>
    {/each}
  </ul>
</div>
