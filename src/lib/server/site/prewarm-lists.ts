import { randomUUID } from 'node:crypto';
import { newId } from '../../core/base/ids';
import { answerFrom } from '../../core/columns/answer';
import { facetsFrom } from '../../core/columns/facets';
import type { CompiledLoop } from '../../core/loops/compiled';
import { localDay } from '../../core/base/write';
import { EMPTY_POOL, makeEnv, type Env } from '../../core/paths/env';
import { endJob, noteJobProgress, noteOwnWork, ownWork } from '../queries/jobs';
import { bringUp, tablesView } from '../queries/tables';
import { log } from '../base/log';
import { recordTable } from '../services/lists';
import { readModel } from '../services/model';
import { siteDesign, type SiteDesign } from './design';
import { drawFirstPages } from './prewarm-pages';
import { prewarmAssignments } from './assignments';
import { perServer } from '../base/server';

/** The lists of a design: the loops of its templates, and of the parts in these, that go over a query or an archive. */
function listsOf(design: SiteDesign): CompiledLoop[] {
  return design.templates.flatMap((template) =>
    [...design.ready(template).tree.elements.values()].flatMap(({ loop }) =>
      loop && !loop.problems.length && ['query', 'archive'].includes(loop.source.from) ? [loop] : [],
    ),
  );
}

interface Prewarming {
  /** The state of design and columns that was laid out last. */
  done: string;
  working: Promise<void> | undefined;
  /** Whether the lists of the released design were laid out once since the start. */
  ready: boolean;
}
const prewarming = perServer((): Prewarming => ({ done: '', working: undefined, ready: false }));

/**
 * Brings columns up to the last write, and lays out the lists of the released design where this process has not yet, such
 * as after a start, a release, or a write that touched everything. To be called again and again.
 */
export function prewarmLists(): Promise<void> {
  const own = prewarming();
  return (own.working ??= prewarm(own).finally(() => {
    own.working = undefined;
  }));
}

async function prewarm(own: Prewarming): Promise<void> {
  const anew = await bringUp();
  const design = await siteDesign('released');
  const state = `${design.key} ${anew}`;
  if (own.done === state) return;
  await layOutLists(design);
  await layOutScreens(design);
  await drawFirstPages(design, own.ready ? 1 : ROUNDS);
  own.done = state;
  if (!own.ready) log().info({ ms: Math.round(performance.now()) }, 'Lists prewarmed: ready');
  own.ready = true;
}

/** So often the first pages are drawn after a start. */
const ROUNDS = 3;
/** Whether the lists of the released design were laid out once since this process started. */
export const listsArePrewarmed = (): boolean => prewarming().ready;

/** What laying out is called among jobs. */
const KIND = 'lists';
const HOLDER = randomUUID();
/** How often a process says how far it is, in milliseconds. */
const HEARD = 1000;
/** Of whom nothing was heard for so many seconds is not at it any more. */
const SILENT = 10;

/** How far laying out is, in lists, of all processes that are at it: each has columns of its own. No processes where none is. */
export const prewarmProgress = (): Promise<{ processes: number; done: number; total: number }> => ownWork(KIND, SILENT);

/** Tells all processes how far this one is, where it takes longer than a moment (`heard`, in milliseconds). */
export function reportProgress(total: number, heard = HEARD): { at(done: number): void; end(): Promise<void> } {
  const id = newId('job');
  let now = 0;
  let told: Promise<unknown> = Promise.resolve();
  let begun = false;
  const timer = setInterval(() => {
    told = told
      .then(async () => {
        await (begun ? noteJobProgress(id, HOLDER, now, total) : noteOwnWork(id, KIND, HOLDER, total));
        begun = true;
      })
      // A database that is away for a moment hears of it later.
      .catch(() => undefined);
  }, heard);
  return {
    at: (done) => void (now = done),
    async end() {
      clearInterval(timer);
      await told;
      if (begun) await endJob(id, HOLDER, { state: 'done' }, { done: now, total }).catch(() => undefined);
    },
  };
}

/** One list after the other, so that no visitor has to wait for it; who asks meanwhile waits for their own list at most. */
async function layOutLists(design: SiteDesign): Promise<void> {
  const { model } = design;
  const env = makeEnv({ model, pool: EMPTY_POOL, today: localDay(new Date(), model.site.timeZone) });
  const lists = listsOf(design);
  const progress = reportProgress(lists.length);
  try {
    for (const [n, loop] of lists.entries()) {
      await layOutList(loop, env);
      progress.at(n + 1);
    }
  } finally {
    await progress.end();
  }
}

/** What screens of the studio open with: which template answers what, and the table of each type. */
async function layOutScreens(design: SiteDesign): Promise<void> {
  await prewarmAssignments(design);
  await prewarmAssignments(await siteDesign('draft'));
  for (const { id } of (await readModel()).types) await recordTable(id, { limit: 1 });
}

async function layOutList(loop: CompiledLoop, env: Env): Promise<void> {
  const view = tablesView();
  const from = performance.now();
  for (let pass = 0; pass < 10; pass++) {
    const list = view.ready && answerFrom(view, loop, env, READER);
    if (list && facetsFrom(view, loop, env, READER)) break;
    await view.fill();
  }
  const took = performance.now() - from;
  if (took > TOLD) log().info({ list: loop.scope.name, took: Math.round(took) }, 'List prewarmed');
}
const READER = { drafts: false };

/** What takes longer than so many milliseconds is told in the log. */
const TOLD = 1000;
