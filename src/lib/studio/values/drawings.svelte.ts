import { onLoaded } from '$lib/core/base/on-demand';
import { fetchMissingIcons, noteMissingIcons } from './missing-icons';

/** What drawing needs and is fetched when it is first needed: drawings of icons, large libraries. */
class Drawings {
  /** Counts up when some have come, so that what was drawn without them is drawn again. */
  known = $state(0);

  constructor() {
    onLoaded(() => this.known++);
    // All that one picture misses is asked for at once.
    noteMissingIcons(() => setTimeout(() => void this.fetch()));
  }

  private async fetch(): Promise<void> {
    if (await fetchMissingIcons()) this.known++;
  }
}

export const drawings = new Drawings();
