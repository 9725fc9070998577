import { decodedPath } from '../../../core/addresses/decoded';
import { z } from 'zod';
import type { Page } from '../operation';
import { Refusal } from '../../base/refusal';

export const Pages = z.object({
  page: z.coerce.number().int().min(1).max(200_000).default(1),
  per_page: z.coerce.number().int().min(1).max(500).default(50),
});
export type Pages = z.infer<typeof Pages>;

/** A page of a list that is at hand as a whole. */
export const paged = <T>(all: readonly T[], { page, per_page: perPage }: Pages): Page<T> => ({
  items: all.slice((page - 1) * perPage, page * perPage),
  total: all.length,
  page,
  perPage,
});

export const sameId = (body: unknown, given: string | undefined, what: string): void => {
  if ((body as { id?: unknown } | null)?.id !== given)
    throw new Refusal(422, `The ${what} has another id than its address.`);
};

/** Ids in an address, parted by commas. */
export const listIn = (text: string): string[] => text.split(',').filter(Boolean);

/** The path of an address that was typed, decoded; refused (422) where an escape in it says nothing. */
export function wellFormed(path: string, value: string): string {
  const plain = decodedPath(path);
  if (plain === undefined)
    throw new Refusal(422, 'This is no address.', [
      { at: 'address', what: `“${value}” has an escape that says nothing.`, fix: 'Check the signs after each %.' },
    ]);
  return plain;
}
