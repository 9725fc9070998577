/// <reference lib="webworker" />
import type { ContentRecord } from '$lib/core/schema/record';
import { coverageSteps } from '$lib/core/coverage/coverage';
import { looksOf } from '$lib/core/coverage/look';
import { localDay } from '$lib/core/base/write';
import { memoryPool } from '$lib/core/loops/memory-pool';
import { indexModel } from '$lib/core/model/model';
import type { ModelIndex } from '$lib/core/model/model-index';
import { makeEnv } from '$lib/core/paths/env';
import { compileTree, scopesOf, type CompiledTree } from '$lib/core/render/compile';
import { recordsAnswered } from '$lib/core/serving/answers';
import type { Tree } from '$lib/core/schema/element';
import type { Ask, SurveyGround, Told } from './messages';

/** Asks about many records away from the screen, so that this stays at hand; whatever is asked anew stops what went before. */
const tell = (message: Told) => self.postMessage(message);

interface Known extends SurveyGround {
  index: ModelIndex;
  /** Resolved once everything that was not sent has been fetched. */
  whole: Promise<void>;
}
let known: Known | undefined;
const latest = { cover: 0, draw: 0 };

/** Others get their turn: a message that stops this may have come. */
const breathe = () => new Promise<void>((done) => setTimeout(done));

/** No more than so many records of one type are gone through. */
const MOST = 20_000;

async function fetchRest(ground: SurveyGround): Promise<ContentRecord[]> {
  const out: ContentRecord[] = [];
  for (const typeId of ground.partial) {
    let after = ground.records.reduce((last, { id, typeId: own }) => (own === typeId ? Math.max(last, id) : last), 0);
    for (let count = 0; count < MOST;) {
      const asked = new URLSearchParams({ type: typeId, after: String(after) });
      const answer = await fetch(new URL(`/api/v1/workbench/records?${asked}`, self.location.origin));
      if (!answer.ok) throw new Error('Not all records could be fetched. Open the template again to try once more.');
      const { records } = (await answer.json()) as { records: ContentRecord[] };
      if (!records.length) break;
      out.push(...records);
      count += records.length;
      after = records.at(-1)!.id;
      tell({ told: 'fetching', done: out.length });
    }
  }
  return out;
}

function learn(ground: SurveyGround): void {
  const all = { ...ground, index: indexModel(ground.model), whole: Promise.resolve() };
  if (ground.partial.length)
    all.whole = fetchRest(ground).then((rest) => {
      all.records = [...ground.records, ...rest];
    });
  all.whole.catch((error: unknown) => tell({ told: 'failed', why: (error as Error).message }));
  known = all;
}

function compile({ index, parts, template }: Known, tree: Tree): CompiledTree {
  const byId = new Map(parts.map((part) => [part.id, part]));
  return compileTree(tree, scopesOf(template, index), index, {
    marked: true,
    parts: (id) => byId.get(id),
    id: template.id,
  });
}

const today = ({ model }: Known) => localDay(new Date(), model.site.timeZone);

async function cover({ job, tree, also, set }: Ask & { do: 'cover' }): Promise<void> {
  const here = known;
  if (!here) return;
  await here.whole;
  const began = performance.now();
  const compiled = compile(here, tree);
  const env = makeEnv({ model: here.index, pool: memoryPool(here.records, here.media, false), today: today(here) });
  const { template, templates, index } = here;
  const { records, set: given } = recordsAnswered(template, templates, here.records, index, env, set);
  const kept = also.filter((id) => compiled.elements.has(id));
  const steps = coverageSteps(tree, compiled, records, env, kept);
  for (;;) {
    const step = steps.next();
    if (step.done) {
      const titles = records.map(({ id, title }): [number, string] => [id, title]);
      return tell({ told: 'covered', job, coverage: step.value, set: given, titles, took: performance.now() - began });
    }
    tell({ told: 'covering', job, done: step.value, of: records.length });
    await breathe();
    if (latest.cover !== job) return;
  }
}

async function draw({ job, tree, ids }: Ask & { do: 'draw' }): Promise<void> {
  const here = known;
  if (!here) return;
  const compiled = compile(here, tree);
  const byId = new Map(here.records.map((record) => [record.id, record]));
  const pool = memoryPool(here.records, here.media, false);
  const look = looksOf(tree, compiled, { model: here.index, pool, today: today(here) });
  let looks = [];
  let since = performance.now();
  for (const [i, id] of ids.entries()) {
    const record = byId.get(id);
    if (record) looks.push(look(record));
    // Some at a time: the first are on screen while the rest is drawn.
    if (performance.now() - since < 40 && i < ids.length - 1) continue;
    tell({ told: 'drawing', job, looks, done: i + 1, of: ids.length, css: compiled.css });
    looks = [];
    await breathe();
    if (latest.draw !== job) return;
    since = performance.now();
  }
}

self.onmessage = ({ data }: MessageEvent<Ask>) => {
  const failed = (error: unknown) => tell({ told: 'failed', why: (error as Error).message });
  if (data.do === 'ground') learn(data.ground);
  else if (data.do === 'stop') latest.cover = latest.draw = -1;
  else {
    latest[data.do] = data.job;
    (data.do === 'cover' ? cover(data) : draw(data)).catch(failed);
  }
};
