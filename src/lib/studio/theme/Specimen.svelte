<script lang="ts">
  import { onMount } from 'svelte';
  import { themeCss } from '$lib/core/theme/theme';
  import type { Theme } from '$lib/core/schema/theme';
  import { escapeHtml } from '$lib/core/base/text';
  import { fillFrame } from '../base/frame';
  import site from '$lib/site/site.css?url';

  let { theme }: { theme: Theme } = $props();

  let frame: HTMLIFrameElement;
  let ready = $state(false);

  const name = (text: string) => escapeHtml(text);
  const html = $derived(`
<header class="stack gap-s"><p class="tone-quiet text text-s">Specimen</p><h1>Above the tree line</h1>
<p class="text text-l">A night in a hut begins with wet boots by the stove and ends with the light on the ridge.</p></header>
<div class="columns share-wide-first gap-l"><div class="stack gap-m">
<h2>What to carry</h2><p class="text">Bring a sheet sleeping bag, a torch, and food that cooks in one pot. <a href="#x">The kitchen rules</a> hang by the door; read them before the first kettle.</p>
<p class="link look-button"><a href="#x">Book a bunk</a></p><p class="link look-outline"><a href="#x">See the trail</a></p></div>
<aside class="stack gap-s ground-notice pad-m"><h3>Before you set out</h3><p class="text text-s">The upper bridge is out until the end of the month.</p></aside></div>
<div class="row gap-s">${['tint', 'deep', 'lined'].map((ground) => `<div class="ground-${ground} pad-m"><p class="text">On ${ground}</p></div>`).join('')}<p class="text tone-badge">Open</p></div>
<section class="stack gap-s"><h2>Type scale</h2>${theme.size.map((t) => `<p style="font-size:${t.value};line-height:1.2;margin:0">${name(t.name)} <span class="tone-quiet text-s">${name(t.value)}</span></p>`).join('')}</section>
<section class="stack gap-s"><h2>Colours</h2><div class="row gap-s">${theme.colour.map((t) => `<figure style="margin:0;width:6.5rem"><div style="height:3rem;background:${t.value};border:1px solid var(--colour-line);border-radius:var(--radius-s)"></div><figcaption>${name(t.name)}</figcaption></figure>`).join('')}</div></section>
<section class="stack gap-s"><h2>Shadows and corners</h2><div class="row gap-l">${theme.shadow.map((t) => `<div style="padding:1.2rem;background:#fff;box-shadow:var(--shadow-${t.key});border-radius:var(--radius-m)">${name(t.name)}</div>`).join('')}</div></section>`);

  const page = `<!DOCTYPE html><html lang="en"><head><meta charset="utf-8"><link rel="stylesheet" href="${site}"><style id="own"></style></head><body><main class="stack gap-l" style="padding:2rem"></main></body></html>`;

  onMount(() => fillFrame(frame, page, () => (ready = true)));

  $effect(() => {
    const document = ready ? frame.contentDocument : undefined;
    const own = document?.getElementById('own');
    const main = document?.querySelector('main');
    if (!own || !main) return;
    own.textContent = themeCss(theme);
    main.innerHTML = html;
  });
</script>

<iframe
  bind:this={frame}
  title="Specimen of the theme"
  sandbox="allow-same-origin"
  class="h-full w-full border-0 bg-paper"
></iframe>
