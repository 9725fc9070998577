import type { Operation } from '../operation';
import { account } from './account';
import { exchange } from './exchange';
import { media } from './media';
import { people } from './people';
import { records } from './records';
import { releases } from './releases';
import { site } from './site';
import { templates } from './templates';
import { terms } from './terms';
import { types } from './types';

/** Every operation there is: what the studio asks for, the API, and what its document describes. `base` is the site's own style sheet. */
export function operations(base: string): Operation[] {
  const all: Operation[] = [
    ...types,
    ...records,
    ...terms,
    ...media,
    ...templates,
    ...site,
    ...releases(base),
    ...exchange(base),
    ...people,
    ...account(() => all),
  ];
  return all;
}
