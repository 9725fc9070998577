import type { Problem } from '../base/result';
import type { Field } from '../schema/field';
import type { Site } from '../schema/model';
import type { ModelIndex, Reader } from './model-index';

/** What a slot takes. */
export type SlotShape =
  | 'inline'
  | 'blocks'
  | 'url'
  | 'picture'
  | 'pictures'
  | 'number'
  | 'icon'
  | 'colour'
  | 'embed'
  | 'list'
  | 'places'
  | 'rows'
  | 'terms';

/** Groups of tests; a test says which it belongs to, a family which of them fit its values. */
export type TestGroup =
  'text' | 'order' | 'money' | 'days' | 'whole' | 'choice' | 'yesno' | 'choices' | 'terms' | 'records';

/** What a format writes; a family says which of these its values are. Formats of text write every value as it reads. */
export type Written = 'text' | 'number' | 'day' | 'clock' | 'choice' | 'yesno' | 'address' | 'duration' | 'money';

/** What shows a value at its best; elements say for which of these they are brought. */
export type ShownAs =
  | 'words'
  | 'story'
  | 'picture'
  | 'pictures'
  | 'player'
  | 'icon'
  | 'list'
  | 'rows'
  | 'terms'
  | 'map'
  /** Leads somewhere by its own words. */
  | 'link'
  /** Leads somewhere, and has no words of its own. */
  | 'button'
  /** Records, each with a turn of its own. */
  | 'loop';

/** The input in which a constant is given to compare values with. */
export type Operand =
  'words' | 'number' | 'date' | 'time' | 'instant' | 'duration' | 'money' | 'answers' | 'records' | 'none';

/** One of the few answers that a value may be. */
export interface FilterChoice {
  key: string;
  label: string;
  /** Stands for it in addresses. */
  word: string;
  /** 0 at the top, for answers that lie below others. */
  depth: number;
}

/** A test by its name, with a constant. */
export interface NamedTest {
  test: string;
  operand?: unknown;
}

/** Visitors filter by ticking answers. */
export interface FilterChoicesFacet {
  by: 'answers';
  /** How the index tells them apart: by the number column, or not there but as terms. */
  counted: 'number' | 'terms';
  /** The answer that a value counts for in the number column. */
  answerAt(number: number, settings: unknown): string;
  /** The answers that one value counts for: a term for all those above it too. */
  keysOf(value: unknown, model: ModelIndex): string[];
  /** What is asked of a value, of one or of several, for these answers. */
  tests(keys: readonly string[], many: boolean): NamedTest[];
}

/** Visitors filter by a least and a largest value. */
export interface RangeFacet {
  by: 'range';
  input: 'number' | 'date' | 'text';
  /** What an end looks like, in words. */
  example: string;
  /** Whether text is an end of the range. */
  takes(text: string): boolean;
  from(text: string, site: Site): NamedTest;
  to(text: string, site: Site): NamedTest;
  /** A number of the index as an end of the range. */
  text(number: number, site: Site): string;
}

/** How tests are gone through without records: which values between them give every outcome. */
export type Possible =
  /** Each answer by itself; of several, sets of them. Where answers lie below others, only those told apart. */
  | { by: 'answers'; values(settings: unknown): unknown[] }
  /** Values along a line of numbers: the value at a number, the step between neighbours, and whether one may be there. */
  | {
      by: 'line';
      at(number: number): unknown;
      whole: boolean;
      step(settings: unknown): number;
      within(number: number, settings: unknown): boolean;
      /** Numbers worth trying, where those that may be are few and far between. */
      tries?(settings: unknown): number[];
      /** An instant: its days are those of the site's calendar. */
      instants?: boolean;
    }
  | { by: 'words' }
  | { by: 'members'; other(index: number): unknown }
  | { by: 'presence' };

/**
 * What kinds of field have in common. Memory, SQL, filters, shelf, picker, rule builder, generated starts, forms, tables
 * and the API read it here; a kind says its family and what differs.
 */
export interface Family {
  name: string;
  /**
   * What the index of the database holds of a value, column by column; memory compares and sorts by the same. Numbers
   * are themselves, days, minutes, or milliseconds since 1970; `text` is folded; `sort` is text as written, for the order by
   * collation. Values of `links` and `terms` stand in tables of their own.
   */
  columns: {
    number?(value: unknown, settings: unknown): number;
    text?(value: unknown, settings: unknown): string | undefined;
    sort?(value: unknown, settings: unknown): string | undefined;
  };
  /** The column in whose order values stand; without it they have none. */
  order?: 'number' | 'sort';
  /** Records hold a list of them even where the field takes one. */
  listed?: boolean;
  /** Two entries of one list may be equal. */
  repeats?: boolean;
  tests: readonly TestGroup[];
  formats: readonly Written[];
  /** The slots that take its values. */
  slots: readonly SlotShape[];
  role: ShownAs;
  /** What shows several at once at their best. */
  severalRole: ShownAs;
  /** Ways to make one value of several, beside first, last, count and listed. */
  takes?: {
    sum?(values: unknown[]): unknown;
    average?(values: unknown[]): unknown;
    /** The smallest and the largest by the number column. */
    extremes?: boolean;
    /**
     * Several values in parts that can be taken together, in order, such as amounts of one currency: sum, average, smallest and
     * largest then give one of each part.
     */
    parts?(values: unknown[]): unknown[][];
  };
  operand: Operand;
  /** What is wrong with a constant, where that is not for the kind to say. */
  operandProblem?(value: unknown): string | undefined;
  /** Where what is told of it stands in quotation marks. */
  quoted?: boolean;
  /** Values are keys that stand for words. */
  keyed?: boolean;
  /** The few answers that a value may be. */
  answers?(settings: unknown, model: ModelIndex): FilterChoice[];
  /** The test that holds for just one of the answers, for a branch for each. */
  branch?(key: string): NamedTest;
  facet?: FilterChoicesFacet | RangeFacet;
  possible: Possible;
  /** The calendar day of a value, a full-date. */
  day?(value: unknown, site: Site): string;
  /** The number column counts days. */
  daysIndexed?: boolean;
  /** Whether list items may stand in groups by it. */
  groups: boolean;
  /** What orders groups by it, where that is not the order of values. */
  groupOrder?(value: unknown, text: string, model: ModelIndex): number | string;
  /** A path may go on from it: to a record, or to what each entry has. */
  leads?: 'record' | 'entry';
  /** What each of several has, as the sub-fields of a row, and a value as such a row. */
  entries?: {
    fields(settings: unknown): Field[];
    row(value: unknown, reader: Reader): Record<string, unknown> | undefined;
  };
  /** A value in JSON-LD; its text without. `origin` stands before addresses of the site. */
  told?(value: unknown, reader: Reader, origin: string): unknown;
  /** Numbers and booleans of a file are words here. */
  wordsOfNumbers?: boolean;
  /** The number that charts draw of a value, and what it is of; values of one unit are drawn together. */
  figure?(value: unknown, settings: unknown): { value: number; unit?: string } | undefined;
  /** Figures, set flush at the decimal point in tables. */
  figures?: boolean;
  /** What is wrong with settings beside the model, such as a taxonomy that is gone. */
  problem?(settings: unknown, model: ModelIndex): Problem | undefined;
}

/** Keeps `V` and `S` checked where a family is written, and plain where families are read. */
export interface TypedFamily<V, S> extends Omit<Family, 'columns'> {
  columns: {
    number?(value: V, settings: S): number;
    text?(value: V, settings: S): string | undefined;
    sort?(value: V, settings: S): string | undefined;
  };
}
export const defineFamily = <V, S = unknown>(family: TypedFamily<V, S>): Family => family as unknown as Family;

/** What families whose values are only there or not have in common. */
export const PRESENCE = {
  possible: { by: 'presence' },
  tests: [],
  formats: [],
  operand: 'none',
  groups: true,
} as const;

/** Slots that take whatever reads as words. */
export const IN_WORDS = ['inline', 'blocks', 'list'] as const;
