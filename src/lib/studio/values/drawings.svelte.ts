import { onMissedIcon } from '$lib/core/base/icons';

/** Drawings of icons, which are many: fetched as a whole with the first that is drawn or chosen, never before. */
class Drawings {
  /** Counts up when they are there, so that what was drawn without them is drawn again. */
  known = $state(0);
  private coming: Promise<typeof import('$lib/core/base/icons/all')> | undefined;

  constructor() {
    onMissedIcon(() => void this.fetch());
  }

  fetch(): Promise<typeof import('$lib/core/base/icons/all')> {
    this.coming ??= import('$lib/core/base/icons/all').then((all) => {
      this.known++;
      return all;
    });
    return this.coming;
  }
}

export const drawings = new Drawings();
