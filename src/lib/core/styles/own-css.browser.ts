import { onDemand } from '../base/on-demand';
import type { confineCss as confine } from './confine';
import type { unknownVariables as unknown } from './unknown-variables';

const library = onDemand(async () => ({ ...(await import('./confine')), ...(await import('./unknown-variables')) }));

/** As in `own-css.ts`; no rules and no problems until the parser has come. */
export const confineCss: typeof confine = (source, className) =>
  library()?.confineCss(source, className) ?? { css: '', problems: [] };
export const unknownVariables: typeof unknown = (css, known) => library()?.unknownVariables(css, known) ?? [];
