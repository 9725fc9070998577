<script lang="ts">
  import { onMount } from 'svelte';
  import { samePath, type Path } from '$lib/core/schema/path';
  import { pathKey } from './shelf';
  import { measured } from '../state/measured';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, beat }: { wb: Workbench; beat: number } = $props();

  interface Line {
    id: string;
    d: string;
    from: { x: number; y: number };
    to: { x: number; y: number };
    kind: 'bound' | 'repeats' | 'rule';
    path: Path;
    elementId: string;
    away: boolean;
    frayed: boolean;
  }

  let svg: SVGSVGElement;
  let lines: Line[] = $state.raw([]);
  let due = 0;

  const COLOUR = { bound: 'var(--color-madder)', repeats: 'var(--color-indigo)', rule: 'var(--color-weld)' };

  /** Where the rows with a name of their own stand, all read at once. */
  function boxes(attribute: string): Map<string, DOMRect> {
    const found = document.querySelectorAll<HTMLElement>(`[${attribute}]`);
    return new Map([...found].map((row) => [row.getAttribute(attribute) as string, row.getBoundingClientRect()]));
  }

  function middle(box: DOMRect, area: DOMRect): { y: number; away: boolean } {
    const y = (box.top + box.bottom) / 2;
    return { y: Math.min(area.bottom - 5, Math.max(area.top + 5, y)), away: y < area.top || y > area.bottom };
  }

  function measure() {
    const shelf = document.querySelector('[data-shelf-scroll]')?.getBoundingClientRect();
    const outline = document.querySelector('[data-outline-scroll]')?.getBoundingClientRect();
    const own = svg?.getBoundingClientRect();
    if (!shelf || !outline || !own) return;
    const [fields, groups, elements] = ['data-shelf-key', 'data-shelf-group', 'data-outline-id'].map(boxes) as [
      Map<string, DOMRect>,
      Map<string, DOMRect>,
      Map<string, DOMRect>,
    ];
    /** The shelf row of a path, or the nearest row or heading it is folded into. */
    const shelfBox = (path: Path): DOMRect | undefined => {
      for (let n = path.steps.length; n > 0; n--) {
        const found = fields.get(pathKey({ ...path, steps: path.steps.slice(0, n) }));
        if (found) return found;
      }
      return groups.get(path.from);
    };
    const foldedInto = new Map<string, string>();
    if (wb.selection.folded.size)
      for (const { element, above } of wb.selection.rows) {
        const folded = above.find((id) => wb.selection.folded.has(id));
        if (folded) foldedInto.set(element.id, folded);
      }
    const broken = new Set(wb.looseEnds.map((end) => `${end.elementId} ${end.via}`));
    const next: Line[] = [];
    for (const [i, use] of wb.uses.entries()) {
      const start = shelfBox(use.path);
      const end = elements.get(foldedInto.get(use.elementId) ?? use.elementId);
      if (!start || !end) continue;
      const a = middle(start, shelf);
      const b = middle(end, outline);
      const from = { x: 2, y: a.y - own.top };
      const to = { x: own.width - 3, y: b.y - own.top };
      const half = own.width / 2;
      next.push({
        id: `${use.elementId} ${use.via} ${i}`,
        d: `M${from.x} ${from.y} C${half} ${from.y} ${half} ${to.y} ${to.x} ${to.y}`,
        from,
        to,
        kind: use.via === 'rule' ? 'rule' : use.via === 'repeats' ? 'repeats' : 'bound',
        path: use.path,
        elementId: use.elementId,
        away: a.away || b.away,
        frayed: broken.has(`${use.elementId} ${use.via}`),
      });
    }
    lines = next;
  }

  function soon() {
    cancelAnimationFrame(due);
    due = requestAnimationFrame(() => measured('threads', measure));
  }

  $effect(() => {
    void beat;
    void wb.uses;
    void wb.looseEnds;
    soon();
  });

  onMount(() => {
    const watcher = new ResizeObserver(soon);
    watcher.observe(svg);
    return () => watcher.disconnect();
  });

  const isLit = (line: Line) =>
    (wb.litPath && samePath(wb.litPath, line.path)) || line.elementId === wb.selection.hovered;
  const quiet = $derived(wb.litPath !== undefined || lines.some((line) => line.elementId === wb.selection.hovered));
</script>

<div class="relative min-h-0 bg-linen" aria-hidden="true">
  <svg bind:this={svg} class="absolute inset-0 h-full w-full" data-threads={lines.length}>
    {#each lines as line (line.id)}
      {@const lit = isLit(line) || (!quiet && line.elementId === wb.selection.id)}
      <g
        opacity={line.away ? (lit ? 0.5 : 0.12) : lit ? 1 : quiet ? 0.16 : 0.5}
        stroke={line.frayed ? 'var(--color-ink)' : COLOUR[line.kind]}
        fill="none"
        stroke-width={lit ? 2 : 1.25}
      >
        <path d={line.d} stroke-dasharray={line.frayed ? '1 4' : line.kind === 'rule' ? '5 3' : undefined} />
        {#if line.kind === 'repeats'}<path d={line.d} transform="translate(0 3)" />{/if}
        {#if line.frayed}
          <path d="M{line.to.x - 7} {line.to.y} l7 -4 m-7 4 l7 0 m-7 0 l7 4" />
        {:else if line.kind === 'rule'}
          <circle cx={line.to.x - 3} cy={line.to.y} r="3" fill="var(--color-paper)" />
        {:else if line.kind === 'bound'}
          <circle cx={line.to.x - 2} cy={line.to.y} r="2.6" fill={COLOUR.bound} stroke="none" />
        {/if}
        <circle
          cx={line.from.x + 1}
          cy={line.from.y}
          r="2"
          fill={line.frayed ? 'var(--color-ink)' : COLOUR[line.kind]}
          stroke="none"
        />
      </g>
    {/each}
  </svg>
</div>
