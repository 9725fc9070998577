import { draggable, dropTargetForElements } from '@atlaskit/pragmatic-drag-and-drop/element/adapter';
import { disableNativeDragPreview } from '@atlaskit/pragmatic-drag-and-drop/element/disable-native-drag-preview';
import type { Attachment } from 'svelte/attachments';

/** A point of the window, in CSS pixels, and whether the shift key is down. */
export interface At {
  x: number;
  y: number;
  shift: boolean;
}

/** Where a load would land at a point of a surface; undefined where it would not. */
export type Surface<Load, Landing> = (at: At, load: Load) => Landing | undefined;

const pointOf = (input: { clientX: number; clientY: number; shiftKey: boolean }): At => ({
  x: input.clientX,
  y: input.clientY,
  shift: input.shiftKey,
});

/**
 * Carrying things by the pointer from where they lie to where they shall be: the one way of it in the studio. What
 * can be carried is a source, where it can be put down a surface; each carry has its own, and takes no others.
 */
export class Carry<Load, Landing> {
  /** What is being carried, and the point where it is. */
  load: Load | undefined = $state.raw();
  x = $state(0);
  y = $state(0);
  /** What would become of it here. */
  landing: Landing | undefined = $state.raw();
  private readonly surfaces = new Map<Element, Surface<Load, Landing>>();

  constructor(
    /** It was put down where it can land. */
    private readonly drop: (landing: Landing, load: Load) => void,
  ) {}

  /** Makes an element something that can be carried, wherever `load` gives something at the point where it is taken. */
  source(load: (at: At) => Load | undefined): Attachment<HTMLElement> {
    return (element) =>
      draggable({
        element,
        canDrag: ({ input }) => load(pointOf(input)) !== undefined,
        getInitialData: ({ input }) => ({ carry: this, load: load(pointOf(input)) }),
        // What is carried is told in words beside the pointer, or shown where it would land.
        onGenerateDragPreview: ({ nativeSetDragImage }) => disableNativeDragPreview({ nativeSetDragImage }),
        onDragStart: ({ source, location }) => {
          this.load = source.data.load as Load;
          this.over(location.current.dropTargets, pointOf(location.current.input));
        },
        onDrag: ({ location }) => this.over(location.current.dropTargets, pointOf(location.current.input)),
        onDrop: ({ location }) => {
          // Given up, it is over no surface any more.
          this.over(location.current.dropTargets, pointOf(location.current.input));
          const { load: carried, landing } = this;
          this.load = this.landing = undefined;
          if (carried !== undefined && landing !== undefined) this.drop(landing, carried);
        },
      });
  }

  /** Makes an element a place where things can be put down. Of surfaces in each other the inner one is asked first. */
  surface(at: Surface<Load, Landing>): Attachment<HTMLElement> {
    return (element) => {
      this.surfaces.set(element, at);
      const stop = dropTargetForElements({
        element,
        canDrop: ({ source }) => source.data.carry === this,
        getDropEffect: () => 'move',
      });
      return () => {
        stop();
        this.surfaces.delete(element);
      };
    };
  }

  /** Looks what would become of the load at a point over these elements, the innermost first. */
  over(elements: readonly { element: Element }[], at: At): void {
    const { load } = this;
    if (load === undefined) return;
    this.x = at.x;
    this.y = at.y;
    this.landing = undefined;
    for (const { element } of elements) {
      this.landing = this.surfaces.get(element)?.(at, load);
      if (this.landing !== undefined) return;
    }
  }
}
