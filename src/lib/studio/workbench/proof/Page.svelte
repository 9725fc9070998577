<script lang="ts">
  import morphdom from 'morphdom';
  import { onMount } from 'svelte';
  import { emptyPage, fillFrame } from '../../base/frame';

  let {
    html,
    css,
    label,
    locale,
    width,
    height: fixed,
    onheight,
  }: {
    html: string;
    css: string;
    label: string;
    /** The language of the site. */
    locale: string;
    /** Pixels; the page is laid out for it. */
    width: number;
    /** So much of it is shown, in pixels; all of it without. */
    height?: number;
    /** Told how high the page is. */
    onheight?: (height: number) => void;
  } = $props();

  let frame: HTMLIFrameElement;
  let ready = $state(false);
  let height = $state(900);

  onMount(() => {
    const page = emptyPage(locale, 'main{padding:1.5rem;max-width:none;min-height:1px} html{overflow:hidden}');
    fillFrame(frame, page, () => {
      ready = true;
      const body = frame.contentDocument?.body;
      if (!body || fixed) return;
      const measure = () => {
        height = Math.min(30_000, body.scrollHeight);
        onheight?.(height);
      };
      new ResizeObserver(measure).observe(body);
      measure();
    });
  });

  $effect(() => {
    const page = ready ? frame.contentDocument : undefined;
    const [own, main] = [page?.getElementById('own'), page?.getElementById('main')];
    if (!own || !main) return;
    if (own.textContent !== css) own.textContent = css;
    morphdom(main, `<main id="main">${html}</main>`, { onBeforeElUpdated: (from, to) => !from.isEqualNode(to) });
  });
</script>

<iframe
  bind:this={frame}
  title={label}
  sandbox="allow-same-origin"
  tabindex="-1"
  class="pointer-events-none block origin-top-left border-0 bg-paper"
  style="width:{width}px; height:{fixed ?? height}px"
></iframe>
