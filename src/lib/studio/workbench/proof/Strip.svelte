<script lang="ts">
  import { onMount } from 'svelte';

  let {
    shown,
    current,
    label,
    words,
    onpick,
  }: {
    /** 1 where it appears, for each record. */
    shown: Uint8Array;
    /** The place of the record on screen; -1 where it is none of these. */
    current: number;
    label: string;
    words: (at: number) => string;
    onpick: (at: number) => void;
  } = $props();

  let canvas: HTMLCanvasElement;
  let width = $state(400);
  let hint = $state('');
  const HEIGHT = 18;
  /** Wider strokes have paper between them. */
  const each = $derived(width / Math.max(1, shown.length));

  let colours: string[] = $state([]);
  onMount(() => {
    const style = getComputedStyle(document.documentElement);
    colours = ['moss', 'linen-deep', 'plum'].map((name) => style.getPropertyValue(`--color-${name}`));
  });

  $effect(() => {
    const ratio = window.devicePixelRatio || 1;
    canvas.width = Math.round(width * ratio);
    canvas.height = Math.round(HEIGHT * ratio);
    const pen = canvas.getContext('2d');
    const [full, empty, here] = colours;
    if (!pen || !full || !empty || !here) return;
    pen.scale(ratio, ratio);
    pen.clearRect(0, 0, width, HEIGHT);
    if (each >= 3) {
      const gap = each >= 6 ? 2 : 1;
      const wide = Math.min(each - gap, 26);
      for (const [i, on] of shown.entries()) {
        pen.fillStyle = on ? full : empty;
        // What is hidden is lower too, so that colour is not all there is.
        if (on) pen.fillRect(i * each, 1, wide, HEIGHT - 5);
        else pen.fillRect(i * each, HEIGHT - 8, wide, 4);
      }
    } else
      for (let x = 0; x < width; x++) {
        const from = Math.floor((x / width) * shown.length);
        const until = Math.max(from + 1, Math.floor(((x + 1) / width) * shown.length));
        let on = 0;
        for (let i = from; i < until; i++) on += shown[i] ?? 0;
        const part = on / (until - from);
        pen.fillStyle = empty;
        pen.fillRect(x, HEIGHT - 8, 1, 4);
        pen.fillStyle = full;
        if (part) pen.fillRect(x, 1 + (1 - part) * (HEIGHT - 6), 1, part * (HEIGHT - 6) + 1);
      }
    if (current >= 0) {
      pen.fillStyle = here;
      pen.fillRect(current * each, HEIGHT - 2, Math.max(2, Math.min(each - 2, 26)), 2);
    }
  });

  const at = (event: MouseEvent) =>
    Math.max(0, Math.min(shown.length - 1, Math.floor((event.offsetX / Math.max(1, width)) * shown.length)));
</script>

<div class="min-w-0 grow" bind:clientWidth={width}>
  <!-- What it shows can be had by key from the lists beside it. -->
  <!-- svelte-ignore a11y_no_interactive_element_to_noninteractive_role -->
  <canvas
    bind:this={canvas}
    role="img"
    aria-label={label}
    title={hint}
    class="block cursor-pointer"
    style="width:{width}px; height:{HEIGHT}px"
    onmousemove={(event) => (hint = words(at(event)))}
    onclick={(event) => shown.length && onpick(at(event))}
  ></canvas>
</div>
