import { z } from 'zod';

/** Where an entry of a menu leads. */
export const DestinationSchema = z.discriminatedUnion('to', [
  z.strictObject({ to: z.literal('front') }),
  z.strictObject({ to: z.literal('search') }),
  z.strictObject({ to: z.literal('record'), recordId: z.number().int().positive() }),
  /** The archive of a type. */
  z.strictObject({ to: z.literal('type'), typeId: z.string().max(40) }),
  z.strictObject({ to: z.literal('term'), termId: z.string().max(40) }),
  z.strictObject({ to: z.literal('author'), authorId: z.number().int().positive() }),
  z.strictObject({
    to: z.literal('link'),
    url: z
      .string()
      .trim()
      .max(2000)
      .regex(/^(https?:\/\/|mailto:|tel:|\/(?![/\\]))[^\s"<>\\]*$/i, {
        error: 'This is an address: https://…, mailto:…, tel:…, or one of this site, such as /huts/.',
      }),
  }),
]);

export type Destination = z.infer<typeof DestinationSchema>;

export interface MenuEntry {
  id: string;
  /** Without one it is called what it leads to. */
  label?: string;
  leads: Destination;
  below: MenuEntry[];
}

const DEEPEST = 4;

const EntrySchema: z.ZodType<MenuEntry> = z.lazy(() =>
  z.strictObject({
    id: z.string().regex(/^[A-Za-z0-9_-]{1,60}$/),
    label: z.string().trim().max(120).optional(),
    leads: DestinationSchema,
    below: z.array(EntrySchema).max(100),
  }),
);

export const MenuSchema = z.strictObject({
  id: z.string().regex(/^[A-Za-z0-9_-]{1,60}$/, { error: 'An id has letters, digits, hyphens and underscores.' }),
  name: z.string().trim().min(1, { error: 'A menu has a name.' }).max(120),
  entries: z
    .array(EntrySchema)
    .max(100)
    .refine((entries) => depthOf(entries) <= DEEPEST, { error: `A menu goes ${DEEPEST} levels deep at most.` })
    .refine((entries) => everyEntry(entries).every(({ label, leads }) => leads.to !== 'link' || label), {
      error: 'A link to an address has words.',
    }),
  version: z.number().int(),
});

/** An ordered tree of links. */
export type Menu = z.infer<typeof MenuSchema>;

const depthOf = (entries: readonly MenuEntry[]): number =>
  entries.length ? 1 + Math.max(...entries.map(({ below }) => depthOf(below))) : 0;

/** The entries of a menu at every level, each before those below it. */
export const everyEntry = (entries: readonly MenuEntry[]): MenuEntry[] =>
  entries.flatMap((entry) => [entry, ...everyEntry(entry.below)]);
