<script lang="ts">
  import { dequal } from 'dequal/lite';
  import morphdom from 'morphdom';
  import { onMount, untrack } from 'svelte';
  import { elementNamed } from '$lib/core/elements';
  import { emptyPage, fillFrame } from '../../base/frame';
  import { landingAt, type Landing, type Load, type LandingSide } from '$lib/core/templates/landing';
  import type { At } from '$lib/ui/carry/carry.svelte';
  import type { Drag } from './drag.svelte';
  import { contrastEnds } from '../looks/contrast';
  import { measured } from '../state/measured';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    drag,
    width: asked,
    zoomed,
    onedit,
  }: {
    wb: Workbench;
    drag: Drag;
    /** Pixels; 0 for as wide as there is room. */
    width: number;
    /** Made smaller, where it is wider than the room there is. */
    zoomed: boolean;
    /** Asked to change what an element says. */
    onedit: (id: string) => void;
  } = $props();

  interface Rect {
    x: number;
    y: number;
    w: number;
    h: number;
  }

  let area: HTMLElement;
  let frame: HTMLIFrameElement;
  let areaWidth = $state(700);
  let height = $state(400);
  let ready = $state(false);
  /** Counts up after every drawing, so that marks are measured on what is there. */
  let drawn = $state(0);

  const width = $derived(asked || Math.max(320, areaWidth - 32));
  const scale = $derived(zoomed ? Math.min(1, (areaWidth - 32) / width) : 1);
  const empty = $derived(wb.selection.rows.length === 1);

  // The page in the frame knows nothing of the studio but these few marks.
  const MARKS = `
    [data-bound] { text-decoration: underline; text-decoration-style: dotted; text-decoration-color: #a8442b80; text-underline-offset: .25em; text-decoration-thickness: 1px }
    .blank { border: 1px dashed #8a7d83; color: #665a61; padding: .75rem 1rem; font: 14px/1.4 var(--body); background: #fffdf8 }
    main { padding: 1.5rem; max-width: none; min-height: 1px } html { overflow: hidden } a { cursor: default }`;

  onMount(() => {
    fillFrame(frame, emptyPage(wb.index.site.locale, MARKS), onFrameLoad);
    const watcher = new ResizeObserver(() => (areaWidth = area.clientWidth));
    watcher.observe(area);
    return () => {
      watcher.disconnect();
      clearTimeout(looking);
    };
  });

  const main = () => frame?.contentDocument?.getElementById('main');

  function onFrameLoad() {
    ready = true;
    const body = frame.contentDocument?.body;
    if (!body) return;
    new ResizeObserver(measure).observe(body);
    frame.contentDocument?.addEventListener('load', measure, true);
  }

  function measure() {
    const body = frame.contentDocument?.body;
    if (!body) return;
    // What is as high as the window must not make the window higher without end.
    height = Math.min(30_000, Math.max(360, body.scrollHeight));
    drawn = untrack(() => drawn) + 1;
    // Whether text can be read is looked at once nothing more changes for a while.
    clearTimeout(looking);
    looking = setTimeout(() => {
      const page = main();
      const seen = page ? contrastEnds(page) : [];
      // What is seen as before asks nothing of outline and settings.
      if (!dequal(seen, wb.seen)) wb.seen = seen;
    }, 400);
  }
  let looking: ReturnType<typeof setTimeout> | undefined;

  /** Puts a drawing on the canvas by the least change of what stands there. */
  let shown: { html?: string; css?: string } = {};
  function show(html: string, css: string) {
    const target = ready && main();
    const own = ready && frame.contentDocument?.getElementById('own');
    if (!target || !own || (html === shown.html && css === shown.css)) return;
    measured('canvas', () => {
      if (css !== shown.css) own.textContent = css;
      if (html !== shown.html)
        morphdom(target, `<main id="main">${html}</main>`, { onBeforeElUpdated: (from, to) => !from.isEqualNode(to) });
    });
    shown = { html, css };
    cancelAnimationFrame(due);
    due = requestAnimationFrame(measure);
  }
  let due = 0;

  // Changes of the tree are shown before anything else is drawn anew; whatever else changes the page comes here.
  onMount(() => {
    wb.show = () => show(wb.selection.rows.length === 1 ? '' : wb.preview.drawing.html, wb.css);
    return () => (wb.show = undefined);
  });
  $effect(() => {
    const [{ html }, css] = [wb.preview.drawing, wb.css];
    if (ready) show(empty ? '' : html, css);
  });

  /** Where an element stands on the canvas, in its own pixels before scaling; once for each turn. */
  function rects(id: string | undefined): { rect: Rect; node: Element }[] {
    void drawn;
    void width;
    const root = id && ready ? main() : undefined;
    if (!root) return [];
    return [...root.querySelectorAll(`[data-element="${CSS.escape(id as string)}"]`)].map((node) => {
      const box = node.getBoundingClientRect();
      return { node, rect: { x: box.left, y: box.top, w: box.width, h: box.height } };
    });
  }

  /** Whether a node stands in the turn that is looked at. */
  function inTurn(node: Element): boolean {
    for (
      let at = node.closest<HTMLElement>('[data-turn]');
      at;
      at = at.parentElement?.closest<HTMLElement>('[data-turn]') ?? null
    )
      if (Number(at.dataset.turn) !== (wb.preview.turns[at.dataset.loop ?? ''] ?? 0)) return false;
    return true;
  }

  const selection = $derived(
    [...(wb.selection.id === wb.tree.root ? [] : [wb.selection.id]), ...wb.selection.also].flatMap((id) =>
      rects(id).map(({ rect, node }) => ({ id, rect, main: inTurn(node) })),
    ),
  );
  const hover = $derived(
    wb.selection.hovered && wb.selection.hovered !== wb.selection.id && wb.selection.hovered !== wb.tree.root
      ? rects(wb.selection.hovered)
      : [],
  );
  const lit = $derived.by(() => {
    const path = wb.litPath;
    if (!path) return [];
    const key = JSON.stringify(path);
    const ids = new Set(wb.uses.filter((use) => JSON.stringify(use.path) === key).map((use) => use.elementId));
    return [...ids].flatMap((id) => rects(id));
  });

  // What is selected elsewhere comes into view.
  let inView = '';
  $effect(() => {
    const own = selection.find((s) => s.main);
    // Another width is another place.
    const key = `${wb.selection.id} ${width}`;
    if (!own || inView === key) return;
    inView = key;
    const top = own.rect.y * scale + 16;
    const bottom = top + Math.min(own.rect.h * scale, area.clientHeight - 60);
    if (top < area.scrollTop + 24) area.scrollTop = top - 24;
    else if (bottom > area.scrollTop + area.clientHeight) area.scrollTop = bottom - area.clientHeight + 24;
  });

  /** The page's own coordinates of a point of the window, or undefined outside of it. */
  function inFrame(x: number, y: number): { x: number; y: number } | undefined {
    const seen = area.getBoundingClientRect();
    if (x < seen.left || x > seen.right || y < seen.top || y > seen.bottom) return undefined;
    const box = frame.getBoundingClientRect();
    return { x: (x - box.left) / scale, y: (y - box.top) / scale };
  }

  function nodeAt(point: { x: number; y: number }): HTMLElement | undefined {
    return (
      frame.contentDocument?.elementFromPoint(point.x, point.y)?.closest<HTMLElement>('[data-element]') ?? undefined
    );
  }

  function pointed(event: PointerEvent): HTMLElement | undefined {
    const point = inFrame(event.clientX, event.clientY);
    return point && nodeAt(point);
  }

  function select(node: HTMLElement | undefined, more: boolean) {
    wb.selection.select(node?.dataset.element ?? wb.tree.root, more);
    for (
      let at = node?.closest<HTMLElement>('[data-turn]');
      at;
      at = at.parentElement?.closest<HTMLElement>('[data-turn]')
    )
      wb.preview.turns[at.dataset.loop ?? ''] = Number(at.dataset.turn);
  }

  /** The part of an element that a point is in: its edges put things beside it, its middle onto or into it. */
  function landingOn(node: HTMLElement, point: { x: number; y: number }, load: Load): Landing | undefined {
    const id = node.dataset.element as string;
    const element = wb.element(id);
    const holds = element && elementNamed(element.kind)?.holds;
    const box = node.getBoundingClientRect();
    const parent = node.parentElement && frame.contentWindow?.getComputedStyle(node.parentElement);
    const across =
      parent &&
      ((parent.display === 'flex' && parent.flexDirection.startsWith('row')) ||
        (parent.display === 'grid' && parent.gridTemplateColumns.split(' ').length > 1));
    const part = across ? (point.x - box.left) / box.width : (point.y - box.top) / box.height;
    const edge = holds ? Math.min(0.2, 12 / (across ? box.width : box.height)) : 0.3;
    const where: LandingSide = part < edge ? 'before' : part > 1 - edge ? 'after' : 'onto';
    if (holds && where === 'onto') {
      // Between the children: before the first one that begins below the point.
      const children = [...node.querySelectorAll<HTMLElement>('[data-element]')].filter((c) =>
        element?.children.includes(c.dataset.element as string),
      );
      const next = children.find(
        (child) => child.getBoundingClientRect().top + child.getBoundingClientRect().height / 2 > point.y,
      );
      if (next) return landingAt(wb.ground(), load, next.dataset.element as string, 'before');
    }
    return landingAt(wb.ground(), load, id, where);
  }

  function landing({ x, y }: At, load: Load): Landing | undefined {
    const point = inFrame(x, y);
    if (!point) return undefined;
    const node = nodeAt(point);
    if (!node || node.dataset.element === wb.tree.root) {
      const children = wb.element(wb.tree.root)?.children ?? [];
      const below = children.find((id) => rects(id).some(({ rect }) => rect.y + rect.h / 2 > point.y));
      return below
        ? landingAt(wb.ground(), load, below, 'before')
        : landingAt(wb.ground(), load, wb.tree.root, 'inside');
    }
    return landingOn(node, point, load);
  }

  /** The element under a point of the window, to be carried somewhere else. */
  function elementAt({ x, y }: At): Load | undefined {
    const point = inFrame(x, y);
    const id = point && nodeAt(point)?.dataset.element;
    return id && id !== wb.tree.root ? { what: 'move', id } : undefined;
  }

  /** The line or frame that shows where the load will land. */
  const mark = $derived.by(() => {
    const landing = drag.landing;
    if (!landing) return undefined;
    const all = rects(landing.target);
    const found = all.find(({ node }) => inTurn(node)) ?? all[0];
    if (!found) return undefined;
    const { x, y, w, h } = found.rect;
    if (landing.where === 'before') return { rect: { x, y: y - 4, w, h: 0 }, line: true };
    if (landing.where === 'after') return { rect: { x, y: y + h + 4, w, h: 0 }, line: true };
    return { rect: found.rect, line: false };
  });
  const place = (r: Rect) =>
    `left:${r.x * scale}px; top:${r.y * scale}px; width:${r.w * scale}px; height:${r.h * scale}px`;
</script>

<!-- svelte-ignore a11y_no_static_element_interactions, a11y_click_events_have_key_events, a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
<div
  class="min-h-0 grow overflow-auto bg-linen-deep p-4"
  bind:this={area}
  data-canvas
  role="region"
  aria-label="Canvas"
  tabindex="0"
  onclick={(event) => event.target === area && wb.selection.select(wb.tree.root)}
>
  <div class="relative mx-auto bg-paper" style="width:{width * scale}px; height:{height * scale}px">
    <iframe
      bind:this={frame}
      title="The page as visitors will see it"
      sandbox="allow-same-origin"
      tabindex="-1"
      class="absolute top-0 left-0 origin-top-left border-0"
      style="width:{width}px; height:{height}px; transform:scale({scale})"
    ></iframe>
    <div
      class="absolute inset-0 {drag.load ? 'cursor-grabbing' : ''}"
      onpointermove={(event) => !drag.load && (wb.selection.hovered = pointed(event)?.dataset.element)}
      onpointerleave={() => (wb.selection.hovered = undefined)}
      ondblclick={() => wb.selection.id !== wb.tree.root && onedit(wb.selection.id)}
      onpointerdown={(event) => select(pointed(event), event.ctrlKey || event.metaKey || event.shiftKey)}
      {@attach drag.source(elementAt)}
      {@attach drag.surface(landing)}
    >
      {#each lit as { rect }, i (i)}<div
          class="pointer-events-none absolute bg-madder/15"
          style={place(rect)}
        ></div>{/each}
      {#each hover as { rect }, i (i)}<div
          class="pointer-events-none absolute border border-plum/50"
          style={place(rect)}
        ></div>{/each}
      {#each selection as { id, rect, main: own }, i (i)}
        <svg class="pointer-events-none absolute overflow-visible {own ? '' : 'opacity-35'}" style={place(rect)}>
          <rect
            x="-1"
            y="-1"
            width={rect.w * scale + 2}
            height={rect.h * scale + 2}
            fill="none"
            stroke="#5b2b4c"
            stroke-width="2"
            stroke-dasharray="6 4"
          />
        </svg>
        {#if own && id === wb.selection.id && i === selection.findIndex((s) => s.main && s.id === id)}
          <span
            class="pointer-events-none absolute rounded-sm bg-plum px-1.5 text-xs text-paper"
            style="right:{(width - rect.x - rect.w) * scale - 2}px; top:{Math.max(0, rect.y * scale - 19)}px"
            >{wb.nameOf(wb.selection.id)}</span
          >
        {/if}
      {/each}
      {#if mark && drag.landing}
        {#if mark.line}
          <div
            class="pointer-events-none absolute h-[3px] {!drag.landing.drop ? 'bg-faded' : 'bg-madder'}"
            style="left:{mark.rect.x * scale}px; top:{mark.rect.y * scale - 1}px; width:{mark.rect.w * scale}px"
          ></div>
        {:else}
          <div
            class="pointer-events-none absolute border-2 border-dashed {!drag.landing.drop
              ? 'border-faded'
              : 'border-madder bg-madder/10'}"
            style={place(mark.rect)}
          ></div>
        {/if}
      {/if}
      {#if empty}
        <div class="pointer-events-none absolute inset-0 flex items-center justify-center p-8 text-center">
          <p class="max-w-sm font-display text-2xl text-faded">Drag a field here, and its value stands on the page.</p>
        </div>
      {/if}
    </div>
  </div>
</div>
