import { answerFrom } from '../../core/columns/answer';
import { facetsFrom } from '../../core/columns/facets';
import type { CompiledLoop } from '../../core/loops/compiled';
import { localDay } from '../../core/base/write';
import { EMPTY_POOL, makeEnv } from '../../core/paths/env';
import { itemsAt } from '../../core/loops/evaluate';
import { tablesView } from '../queries/tables';
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

/** Lays out the lists of the released design where this process has not yet, such as after a start or a release. */
export async function layOutNewLists(): Promise<void> {
  const { key } = await siteDesign('released');
  if (done === key) return;
  done = key;
  await layOutLists();
}

/**
 * Lays out what the lists of the released design are answered from, one list after the other, so that no visitor has to
 * wait for it. Visitors who ask meanwhile wait for their own list at most. Gives how many lists there are.
 */
export async function layOutLists(): Promise<number> {
  const design = await siteDesign('released');
  const env = makeEnv({
    model: design.model,
    pool: EMPTY_POOL,
    today: localDay(new Date(), design.model.site.timeZone),
  });
  const lists = listsOf(design);
  for (const loop of lists) {
    if (itemsAt(loop, env)) continue;
    const view = tablesView();
    const from = performance.now();
    for (let pass = 0; pass < 10; pass++) {
      const asked = view.ready && {
        list: answerFrom(view, loop, env, READER),
        facets: facetsFrom(view, loop, env, READER),
      };
      if (asked && asked.list && asked.facets) break;
      await view.fill();
    }
    const took = performance.now() - from;
    if (took > TOLD)
      log.info({ list: loop.scope.name, of: lists.length, took: Math.round(took) }, 'A list was laid out');
  }
  return lists.length;
}
const READER = { drafts: false };

/** What takes longer than so many milliseconds is told in the log. */
const TOLD = 1000;
