import type { Landing, Load } from '$lib/core/templates/landing';
import { Carry } from '$lib/ui/carry/carry.svelte';

/** What is carried over shelf, outline and canvas, and where it would land; surfaces say what is where. */
export class Drag extends Carry<Load, Landing> {
  /** Put down, and waiting for the way to be chosen. */
  asking: { x: number; y: number; asks: string; offers: NonNullable<Landing['offers']> } | undefined = $state.raw();

  constructor(
    /** Does what a landing says. */
    readonly settle: (drop: NonNullable<Landing['drop']>) => void,
  ) {
    super((landing) => {
      if (!landing.drop) return;
      if (landing.offers && landing.offers.length > 1) {
        const asks = landing.asks ?? 'It has several values';
        this.asking = { x: this.x, y: this.y, asks, offers: landing.offers };
      } else settle(landing.drop);
    });
  }

  /** With the shift key a value brings its label before it. */
  override over(...[elements, at]: Parameters<Carry<Load, Landing>['over']>): void {
    if (this.load?.what === 'value' && Boolean(this.load.labelled) !== at.shift)
      this.load = { ...this.load, labelled: at.shift };
    super.over(elements, at);
  }
}
