import type { ContentRecord, Media } from '../schema/record';
import type { ContentType, Taxonomy, Term, Author, Model } from '../schema/model';
import type { Field } from '../schema/field';
import type { NamedRule } from '../schema/named-rule';
import type { Menu } from '../schema/menu';

/** The model with its look-ups; plain functions over maps made once for each state of the model. */
export interface ModelIndex extends Model {
  type(id: string): ContentType | undefined;
  /** A field of any type, with the type that has it. */
  field(id: string): { field: Field; type: ContentType } | undefined;
  taxonomy(id: string): Taxonomy | undefined;
  term(id: string): Term | undefined;
  author(id: number): Author | undefined;
  /** A rule that is kept under a name. */
  rule(id: string): NamedRule | undefined;
  menu(id: string): Menu | undefined;
  /** The term itself and every term above it, nearest first. */
  above(termId: string): string[];
  /** The term itself and every term below it. */
  below(termId: string): string[];
  /** The terms of a taxonomy, each before those below it. */
  termsOf(taxonomyId: string): Term[];
  /** What the database keeps beside this model, for others; nothing without. */
  beside?: ModelBeside;
}

/** Two models stand over the same records: the draft, and what visitors see. What the database has for the other one. */
export interface ModelBeside {
  /** Ids of content types that only others have. */
  types: readonly string[];
  /** Ids of fields that only others have. */
  fields: readonly string[];
  /**
   * Settings with which values were written to be looked up, by the id of their field, where these are not its own;
   * undefined where they were not written.
   */
  written: ReadonlyMap<string, Record<string, unknown> | undefined>;
  /** Of the draft: what visitors see. */
  seen?: Pick<Model, 'types' | 'taxonomies'>;
}

/** How written values are looked up: what a value's text may need beside the value itself. */
export interface Reader {
  model: ModelIndex;
  record(id: number): ContentRecord | undefined;
  media(id: number): Media | undefined;
  /** The address of a record's page; '' where it has none. */
  addressOf(record: ContentRecord): string;
  /** The address of a term's archive. */
  termAddress(termId: string): string;
}
