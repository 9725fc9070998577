import type { Operation } from '../operation';
import { exchange } from './exchange';
import { media } from './media';
import { records } from './records';
import { releases } from './releases';
import { site } from './site';
import { templates } from './templates';
import { terms } from './terms';
import { types } from './types';

/** Every operation there is: what the studio asks for, the API, and what its document describes. `base` is the site's own style sheet. */
export const operations = (base: string): Operation[] => [
  ...types,
  ...records,
  ...terms,
  ...media,
  ...templates,
  ...site,
  ...releases(base),
  ...exchange(base),
];
