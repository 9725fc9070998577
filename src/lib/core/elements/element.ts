import type { z } from 'zod';
import type { LoopSettings, CompiledLoop } from '../loops/loop';
import type { Family } from '../model/kinds/kind';
import type { Env } from '../paths/env';
import type { CompiledSlot, SlotShape } from '../render/slots';
import type { SlotValue } from '../templates/binding';

/** Gives HTML; '' where there is nothing to show, and the element is dropped. */
export type Draw = (env: Env) => string;

export interface SlotDefinition {
  label: string;
  shape: SlotShape;
  /** Without a value here the element is dropped. */
  required?: boolean;
}

/** One control in an element's settings. */
export interface PropControl {
  name: string;
  label: string;
  as: 'pick' | 'number' | 'switch' | 'line';
  options?: { value: string | number; label: string }[];
}

/** What an element kind is given to make its drawing from. */
export interface Making<P> {
  props: P;
  slot(name: string): CompiledSlot;
  /** All children, one after the other. */
  children: Draw;
  childCount: number;
  /** ` class="…"` with what the designer's canvas needs to find the element again. */
  attributes(...classes: string[]): string;
  /** Drawn for designing: blank elements show where they are. */
  studio: boolean;
  loop?: CompiledLoop;
  /** Shown while designing where an element has nothing yet. */
  blank(words: string): string;
}

/**
 * One kind of element. The schema, the settings form, the palette and the drawing all come from here; it is listed in
 * `./index.ts`.
 */
export interface ElementKind<P = Record<string, unknown>> {
  name: string;
  label: string;
  /** One sentence on what it is for. */
  about: string;
  /** Short mark in the outline. */
  glyph: string;
  /** Whether it holds other elements. */
  holds: boolean;
  /** Every prop has a default, so that `{}` is a working element. */
  props: z.ZodType<P>;
  controls: PropControl[];
  slots: Record<string, SlotDefinition>;
  /** Slots of a new one. */
  starts?: Record<string, SlotValue>;
  /** Families for which dropping a field on the page brings this element, and the slot the field goes into. */
  brings?: { families: Family[]; slot: string };
  /** For the kind that repeats: what it goes over. */
  loop?(props: P): LoopSettings;
  draw(making: Making<P>): Draw;
}

export function defineElement<P>(kind: ElementKind<P>): ElementKind {
  return kind as unknown as ElementKind;
}

/** Options of a pick from plain words: `pick('s', 'Small', 'm', 'Medium')`. */
export function pick(...pairs: string[]): { value: string; label: string }[] {
  const out = [];
  for (let i = 0; i < pairs.length; i += 2) out.push({ value: pairs[i] as string, label: pairs[i + 1] as string });
  return out;
}
