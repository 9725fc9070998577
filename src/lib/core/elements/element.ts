import type { Sign } from '../base/icons';
import type { z } from 'zod';
import type { LoopSettings } from '../schema/loop';
import type { CompiledLoop } from '../loops/compiled';
import type { ShownAs } from '../model/family';
import type { Env } from '../paths/env';
import type { Path } from '../schema/path';
import type { Problem } from '../base/result';
import type { CompiledSlot, SlotShape } from '../bindings/slots';
import type { FormatUse, SlotValue } from '../schema/binding';
import type { Purpose } from '../schema/template';
import type { StyleValue } from '../schema/style';
import type { Box } from '../styles/boxes';
import type { AvailableWidth } from '../styles/available-width';

export { pick } from '../formats/format';

/** Gives HTML; '' where there is nothing to show, and the element is dropped. */
export type Draw = (env: Env) => string;

export interface SlotDefinition {
  label: string;
  shape: SlotShape;
  /** Without a value here the element is dropped. */
  required?: boolean;
  /** Whether a value dropped on the element may go in here; required slots and addresses are, unless told otherwise. */
  drops?: boolean;
}

/** One control in an element's settings. */
export interface PropControl {
  name: string;
  label: string;
  /** `subfields` and `subfield` choose among the sub-fields of the rows in a slot, `part` among the parts, `menu` among the menus, `loop` among loops; `shares` says of each child how many parts of the room it has. */
  as: 'loop' | 'pick' | 'number' | 'switch' | 'words' | 'subfields' | 'subfield' | 'part' | 'menu' | 'about' | 'shares';
  options?: { value: string | number; label: string }[];
  min?: number;
  max?: number;
  /** For sub-fields: the slot whose rows have them, and the slot that each must fit. */
  slot?: string;
  fits?: SlotShape;
  /** Shown only while something is in that slot. */
  whenFilled?: string;
  /** Shown only while another prop has one of these values. */
  when?: { name: string; is: (string | number | boolean)[] };
}

/** What an element kind is given to make its drawing from. */
export interface Making<P> {
  props: P;
  slot(name: string): CompiledSlot;
  /** All children, one after the other. */
  children: Draw;
  childCount: number;
  /** The children one by one: `whole` asks its rule first; `draw` is for those whose rule has been asked by `holds`. */
  branches: {
    id: string;
    name: string;
    kind: string;
    props: Record<string, unknown>;
    whole: Draw;
    holds(env: Env): boolean;
    draw: Draw;
  }[];
  /** ` class="…"` with the element's own class and what the designer's canvas needs to find the element again. */
  attributes(...classes: string[]): string;
  /** Drawn for designing: blank elements show where they are. */
  studio: boolean;
  loop?: CompiledLoop;
  /** A loop of this page by its element's id; without one, the first of which visitors may choose. To be asked while drawing. */
  loopNamed(id: string): CompiledLoop | undefined;
  /** Another template's drawing, for a record of this place; undefined where there is no such part. */
  part(id: string, about: Path | undefined): Draw | undefined;
  /** How wide the place is that it stands in. */
  room: AvailableWidth;
  /** Shown while designing where an element has nothing yet. */
  blank(words: string): string;
}

export const ELEMENT_GROUPS = ['Layout', 'Words', 'Pictures', 'Values', 'Repeats and pieces'] as const;

/**
 * One kind of element. The schema, the settings form, the palette and the drawing all come from here; it is listed in
 * `./index.ts`.
 */
export interface ElementKind<P = Record<string, unknown>> {
  name: string;
  label: string;
  /** One sentence on what it is for. */
  about: string;
  /** Drawn beside its name in the outline and where elements are chosen. */
  sign: Sign;
  group: (typeof ELEMENT_GROUPS)[number];
  /** Whether it holds other elements. */
  holds: boolean;
  /** It shows no words, not even a caption. */
  wordless?: true;
  /** What it shows has no width of its own, but that of its place. */
  fills?: true;
  /** Templates it may stand in; all without it. */
  only?: Purpose[];
  /** Every prop has a default, so that `{}` is a working element. */
  props: z.ZodType<P>;
  controls: PropControl[];
  slots: Record<string, SlotDefinition>;
  /** Settings of a new one that stands on a page once, beside what is there already. */
  startProps?: (there: readonly { kind: string; props: Record<string, unknown> }[]) => Partial<P>;
  /** Slots of a new one. */
  starts?: Record<string, SlotValue>;
  /** Slots of a new one, where there is a record to read from: built-in values by slot. */
  startsWith?: Record<string, string>;
  /** Formats that these begin with, by slot. */
  startFormats?: Record<string, FormatUse[]>;
  /** What it shows at its best: a field of that role brings this element, and goes into the slot. */
  brings?: {
    roles: readonly ShownAs[];
    slot: string;
    /** A slot for words beside it: the value itself once more, or the name of the field. */
    words?: { slot: string; as: 'value' | 'name' };
  };
  /** For the kind that repeats: what it goes over. */
  loop?(props: P): LoopSettings;
  /** What is missing for it to work, once all loops of the page are known. */
  needs?(props: Record<string, unknown>, loopNamed: (id: string) => CompiledLoop | undefined): Problem | undefined;
  /** The boxes in it that have looks: first its face, where its own are seen on something in it, then the others by name. */
  boxes?: readonly Box[];
  /** What about looks cannot be seen on it. */
  never?: readonly string[];
  /** Looks that its props bring, by prop and by its value; one value may bring none. They are set among the looks. */
  brought?: Record<string, Record<string, Record<string, StyleValue>>>;
  /** Declarations for its own class that follow from its props, such as a width that is written as a length. */
  css?(props: P): string;
  /** The room of each of its children, of the room it has itself; the same without it. */
  rooms?(props: P, room: AvailableWidth, child: number, children: number): AvailableWidth;
  draw(making: Making<P>): Draw;
}

export function defineElement<P>(kind: ElementKind<P>): ElementKind {
  return kind as unknown as ElementKind;
}

/** Several drawings as one, one after the other. */
export function joined(draws: Draw[]): Draw {
  const [a, b, c] = draws;
  if (!a) return () => '';
  if (!b) return a;
  if (!c) return (env) => a(env) + b(env);
  return (env) => {
    let out = '';
    for (const draw of draws) out += draw(env);
    return out;
  };
}
