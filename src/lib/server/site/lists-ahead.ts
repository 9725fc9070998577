import { answerFrom } from '../../core/columns/answer';
import { facetsFrom } from '../../core/columns/facets';
import type { CompiledLoop } from '../../core/loops/compiled';
import { localDay } from '../../core/base/write';
import { EMPTY_POOL, makeEnv } from '../../core/paths/env';
import { bringUp, tablesView } from '../queries/tables';
import { log } from '../log';
import { siteDesign, type SiteDesign } from './design';

/** The lists of a design: the loops of its templates, and of the parts in these, that go over a query or an archive. */
function listsOf(design: SiteDesign): CompiledLoop[] {
  return design.templates.flatMap((template) =>
    [...design.ready(template).tree.elements.values()].flatMap(({ loop }) =>
      loop && !loop.problems.length && ['query', 'archive'].includes(loop.source.from) ? [loop] : [],
    ),
  );
}

let done = '';
let working: Promise<void> | undefined;

/**
 * Brings columns up to the last write, and lays out the lists of the released design where this process has not yet, such
 * as after a start, a release, or a write that touched everything. To be called again and again.
 */
export const keepListsReady = (): Promise<void> =>
  (working ??= makeReady().finally(() => {
    working = undefined;
  }));

async function makeReady(): Promise<void> {
  const anew = await bringUp();
  const design = await siteDesign('released');
  const state = `${design.key} ${anew}`;
  if (done === state) return;
  await layOutLists(design);
  done = state;
}

/** One list after the other, so that no visitor has to wait for it; who asks meanwhile waits for their own list at most. */
async function layOutLists(design: SiteDesign): Promise<void> {
  const { model } = design;
  const env = makeEnv({ model, pool: EMPTY_POOL, today: localDay(new Date(), model.site.timeZone) });
  for (const loop of listsOf(design)) {
    const view = tablesView();
    const from = performance.now();
    for (let pass = 0; pass < 10; pass++) {
      const list = view.ready && answerFrom(view, loop, env, READER);
      if (list && facetsFrom(view, loop, env, READER)) break;
      await view.fill();
    }
    const took = performance.now() - from;
    if (took > TOLD) log.info({ list: loop.scope.name, took: Math.round(took) }, 'A list was laid out');
  }
}
const READER = { drafts: false };

/** What takes longer than so many milliseconds is told in the log. */
const TOLD = 1000;
