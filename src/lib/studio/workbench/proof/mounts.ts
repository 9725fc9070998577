/** Milliseconds after the last scrolling until pages are put in. */
const REST = 120;

/**
 * Puts pages into a sheet one after the other, a frame for each, and none while it is scrolled: paper moves along at once,
 * pages come when it rests.
 */
export class Mounts {
  private readonly waiting = new Set<() => void>();
  private scrolledAt = 0;
  private due = false;

  add(mount: () => void): void {
    this.waiting.add(mount);
    this.go();
  }

  remove(mount: () => void): void {
    this.waiting.delete(mount);
  }

  scrolled(): void {
    this.scrolledAt = performance.now();
  }

  private go(): void {
    if (this.due || !this.waiting.size) return;
    this.due = true;
    const step = () => {
      this.due = false;
      if (performance.now() - this.scrolledAt >= REST)
        for (const first of this.waiting) {
          this.waiting.delete(first);
          first();
          break;
        }
      this.go();
    };
    const rest = REST - (performance.now() - this.scrolledAt);
    if (rest > 0) setTimeout(step, rest);
    else requestAnimationFrame(step);
  }
}
