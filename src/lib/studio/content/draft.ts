import { dequal } from 'dequal/lite';
import { z } from 'zod';
import { STATUSES, type ContentRecord, type Status } from '$lib/core/schema/record';
import type { ContentType } from '$lib/core/schema/model';

/** What the form of a record holds. */
export interface Draft {
  title: string;
  slug: string;
  status: Status;
  /** When it is published, for a scheduled one; an instant. */
  published: string | null;
  authorId: number | null;
  values: Record<string, unknown>;
  terms: string[];
}

const DraftSchema: z.ZodType<Draft> = z.object({
  title: z.string(),
  slug: z.string(),
  status: z.enum(STATUSES),
  published: z.string().nullable(),
  authorId: z.number().nullable(),
  values: z.record(z.string(), z.unknown()),
  terms: z.array(z.string()),
});

/** A form as it is kept on a computer: what was typed, what it began with, and when. */
export const StoredDraft = z.object({
  draft: DraftSchema,
  kept: DraftSchema,
  version: z.number().optional(),
  when: z.iso.datetime(),
});

export function draftOf(record: ContentRecord | undefined, type: ContentType): Draft {
  const initial = Object.fromEntries(
    type.fields.flatMap((field) =>
      field.initial === undefined || field.initial === null ? [] : [[field.id, field.initial]],
    ),
  );
  return {
    title: record?.title ?? '',
    slug: record?.slug ?? '',
    status: record?.status ?? 'draft',
    published: record?.published ?? null,
    authorId: record?.authorId ?? null,
    values: record ? { ...record.values } : initial,
    terms: [...(record?.terms ?? [])],
  };
}

/** Equal whatever the order of their keys; nothing and null are the same. */
const same = (a: unknown, b: unknown) => dequal(a ?? null, b ?? null);

/** Whether a form holds what it held before: what was typed and taken back leaves no trace. */
export const sameDraft = (a: Draft, b: Draft, type: ContentType): boolean => differences(a, b, a, type).length === 0;

/** Only what differs is sent, so that nobody else's change to another value is undone. */
export function changesOf(before: Draft, after: Draft, type: ContentType): Record<string, unknown> {
  const values = Object.fromEntries(
    type.fields
      .filter((field) => !same(before.values[field.id], after.values[field.id]))
      .map((field) => [field.id, after.values[field.id] ?? null]),
  );
  return {
    ...(before.title !== after.title ? { title: after.title } : {}),
    ...(before.slug !== after.slug && after.slug ? { slug: after.slug } : {}),
    ...(before.status !== after.status ? { status: after.status } : {}),
    ...(before.published !== after.published && after.published ? { published: after.published } : {}),
    ...(before.authorId !== after.authorId ? { authorId: after.authorId } : {}),
    ...(same(before.terms, after.terms) ? {} : { terms: after.terms }),
    values,
  };
}

/** One part of a record that two people have left in different states. */
export interface PartOfConflict {
  /** `title`, `terms`, or `values.<field>`. */
  part: string;
  before: unknown;
  theirs: unknown;
  mine: unknown;
  /** Both have changed it, each to something else. */
  clash: boolean;
}

const PARTS = ['title', 'slug', 'status', 'published', 'authorId', 'terms'] as const;

/** Where what stands on the server and what is in the form are not the same. */
export function differences(before: Draft, theirs: Draft, mine: Draft, type: ContentType): PartOfConflict[] {
  const parts: [string, (d: Draft) => unknown][] = [
    ...PARTS.map((part): [string, (d: Draft) => unknown] => [part, (d) => d[part]]),
    ...type.fields.map((field): [string, (d: Draft) => unknown] => [`values.${field.id}`, (d) => d.values[field.id]]),
  ];
  return parts.flatMap(([part, read]) => {
    const [b, t, m] = [read(before), read(theirs), read(mine)];
    return same(t, m) ? [] : [{ part, before: b, theirs: t, mine: m, clash: !same(b, t) && !same(b, m) }];
  });
}

/** Their state with my choice of parts put over it. */
export function merged(theirs: Draft, list: PartOfConflict[], mine: ReadonlySet<string>): Draft {
  const out: Draft = { ...theirs, values: { ...theirs.values }, terms: [...theirs.terms] };
  for (const { part, mine: value } of list) {
    if (!mine.has(part)) continue;
    if (part.startsWith('values.')) out.values[part.slice('values.'.length)] = value ?? undefined;
    else Object.assign(out, { [part]: value });
  }
  return out;
}
