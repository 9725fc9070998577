import { tabbable } from 'tabbable';

/** Puts the keys into what has just been opened, at once: a key pressed before the next frame belongs to it as well. */
export function focusFirst(event: Event, opened: HTMLElement | null): void {
  if (!opened) return;
  event.preventDefault();
  // It may not have its place on the screen yet.
  const [first = opened] = tabbable(opened, { displayCheck: 'none' });
  first.focus({ preventScroll: true });
}
