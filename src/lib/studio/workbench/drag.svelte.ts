import type { Landing, Load } from '$lib/core/templates/landing';

export interface Surface {
  /** The landing at a point of the window, or undefined where the point is not on this surface. */
  at(x: number, y: number, load: Load): Landing | undefined;
}

const THRESHOLD = 4;

/** What is being carried over shelf, outline and canvas, and where it would land; surfaces say what is where. */
export class Drag {
  load: Load | undefined = $state.raw();
  x = $state(0);
  y = $state(0);
  landing: Landing | undefined = $state.raw();
  /** Whether a value is to come with its label before it. */
  labelled = false;
  /** Dropped, and waiting for the way to be chosen. */
  asking: { x: number; y: number; offers: NonNullable<Landing['offers']> } | undefined = $state.raw();
  private surfaces = new Set<Surface>();

  constructor(
    /** Does what a landing says. */
    readonly drop: (drop: NonNullable<Landing['drop']>) => void,
  ) {}

  register(surface: Surface): () => void {
    this.surfaces.add(surface);
    return () => this.surfaces.delete(surface);
  }

  /** Begins carrying once the pointer has moved a little; a press without a move stays a click. */
  press(event: PointerEvent, load: () => Load): void {
    if (event.button !== 0) return;
    const from = { x: event.clientX, y: event.clientY };
    const stop = new AbortController();
    const end = () => {
      stop.abort();
      this.load = undefined;
      this.landing = undefined;
    };
    const options = { signal: stop.signal };
    window.addEventListener(
      'pointermove',
      (move) => {
        if (!this.load && Math.hypot(move.clientX - from.x, move.clientY - from.y) < THRESHOLD) return;
        this.load ??= load();
        move.preventDefault();
        this.labelled = move.shiftKey;
        this.x = move.clientX;
        this.y = move.clientY;
        this.landing = this.find(this.load);
      },
      options,
    );
    window.addEventListener(
      'pointerup',
      () => {
        const landing = this.landing;
        const carried = this.load !== undefined;
        end();
        if (!carried) return;
        // The click that ends a drag, if there is one, is not one on what lies below; the next one is.
        const ending = new AbortController();
        window.addEventListener('click', (click) => click.stopPropagation(), { capture: true, signal: ending.signal });
        setTimeout(() => ending.abort(), 0);
        if (!landing?.drop) return;
        if (landing.offers && landing.offers.length > 1) this.asking = { x: this.x, y: this.y, offers: landing.offers };
        else this.drop(landing.drop);
      },
      options,
    );
    window.addEventListener('keydown', (key) => key.key === 'Escape' && end(), options);
    window.addEventListener('pointercancel', end, options);
  }

  private find(load: Load): Landing | undefined {
    for (const surface of this.surfaces) {
      const landing = surface.at(this.x, this.y, load.what === 'value' ? { ...load, labelled: this.labelled } : load);
      if (landing) return landing;
    }
    return undefined;
  }
}
