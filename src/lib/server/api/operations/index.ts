import type { AnyOperation } from '../operation';
import { account } from './account';
import { exchange } from './exchange';
import { icons } from './icons';
import { media } from './media';
import { people } from './people';
import { records } from './records';
import { releases } from './releases';
import { site } from './site';
import { templates } from './templates';
import { terms } from './terms';
import { types } from './types';

/** Every operation by its types, but for those of the account, which tell of all others. */
const apartFromAccount = (base: string) =>
  [
    ...types,
    ...records,
    ...terms,
    ...media,
    ...templates,
    ...site,
    ...icons,
    ...releases(base),
    ...exchange(base),
    ...people,
  ] as const;

/** The operations by their types, for the client of the studio. */
export type OwnOperation = ReturnType<typeof apartFromAccount>[number] | ReturnType<typeof account>[number];

/** Every operation there is: what the studio asks for, the API, and what its document describes. `base` is the site's own style sheet. */
export function operations(base: string): AnyOperation[] {
  const all: AnyOperation[] = [...apartFromAccount(base), ...account(() => all)];
  return all;
}
