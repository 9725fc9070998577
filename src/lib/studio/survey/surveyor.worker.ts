/// <reference lib="webworker" />
import type { ContentRecord } from '$lib/core/schema/record';
import { coverageSteps } from '$lib/core/coverage/coverage';
import { lackOf, type Lack } from '$lib/core/checks/lacking';
import { looksOf, type Look } from '$lib/core/coverage/look';
import { ofPlaces } from '$lib/core/coverage/places';
import {
  around,
  envOf,
  ofArchives,
  ofRecords,
  ofIterations,
  type RecordContext,
  type Subject,
} from '$lib/core/coverage/subjects';
import { localDay } from '$lib/core/base/write';
import { columnsPool } from '$lib/core/columns/memory';
import { indexModel } from '$lib/core/model/model';
import type { ModelIndex } from '$lib/core/model/model-index';
import { makeEnv, type Pool } from '$lib/core/paths/env';
import { compileTree, scopesOf, type CompiledTree } from '$lib/core/render/compile';
import { archivesAnswered, pagesSurrounded, recordsAnswered, type ServedPage } from '$lib/core/serving/answers';
import type { Tree } from '$lib/core/schema/element';
import type { Serving } from '$lib/core/serving/resolution';
import { allLoaded } from '$lib/core/base/on-demand';
import { fetchMissingIcons, noteMissingIcons } from '../values/missing-icons';
import type { Ask, Chosen, Head, SurveyContext, SurveyReply, What } from './messages';

/** Asks about many records away from the screen, so that this stays at hand; whatever is asked anew stops what went before. */
const tell = (message: SurveyReply) => self.postMessage(message);

interface Known extends SurveyContext {
  index: ModelIndex;
  made?: { of: readonly ContentRecord[]; pool: Pool };
  /** Resolved once everything that was not sent has been fetched. */
  whole: Promise<void>;
}
let known: Known | undefined;
const latest = { cover: 0, draw: 0, judge: 0 };
/** How much of what is at work is looked at by somebody who waits for it. */
let waitedFor = 0;

/** Others get their turn: a message that stops this may have come. */
const breathe = () => new Promise<void>((done) => setTimeout(done));

/** What was fetched since everything was last read anew, by type, whichever ground asked for it first. */
let rest = { reads: -1, byType: new Map<string, Promise<ContentRecord[]>>(), done: 0 };

async function fetchType(typeId: string, from: number, into: typeof rest): Promise<ContentRecord[]> {
  const out: ContentRecord[] = [];
  for (let after = from; ; after = out.at(-1)!.id) {
    const asked = new URLSearchParams({ type: typeId, after: String(after) });
    const answer = await fetch(new URL(`/api/v1/workbench/records?${asked}`, self.location.origin));
    if (!answer.ok) throw new Error('Not all records could be fetched. Open the template again to try once more.');
    const { records } = (await answer.json()) as { records: ContentRecord[] };
    if (!records.length || into !== rest) return out;
    out.push(...records);
    into.done += records.length;
    tell({ told: 'fetching', done: into.done });
  }
}

/** The records of partial types that a ground has not; each is fetched once, though the ground changes on the way. */
async function fetchRest({ reads, partial, records }: SurveyContext): Promise<ContentRecord[]> {
  if (rest.reads !== reads) rest = { reads, byType: new Map(), done: 0 };
  const own = rest;
  const here = new Set(records.map(({ id }) => id));
  const fetched = partial.map(async ({ typeId, after }) => {
    let all = own.byType.get(typeId);
    if (!all) own.byType.set(typeId, (all = fetchType(typeId, after, own)));
    // What failed is tried again by the next who asks.
    all.catch(() => own.byType.delete(typeId));
    return (await all).filter(({ id }) => !here.has(id));
  });
  return (await Promise.all(fetched)).flat();
}

function learn(ground: SurveyContext): void {
  const all: Known = { ...ground, index: indexModel(ground.model), whole: Promise.resolve() };
  if (ground.partial.length)
    all.whole = fetchRest(ground).then((more) => {
      all.records = [...ground.records, ...more];
      if (known === all) tellAnswered(all);
    });
  all.whole.catch((error: unknown) => tell({ told: 'failed', why: (error as Error).message }));
  known = all;
}

/** Says how many records there are of those that the screen has some of only. */
function tellAnswered(here: Known): void {
  const { template, templates, records, index } = here;
  if (template.purpose !== 'record' && template.purpose !== 'part') return;
  const env = makeEnv({ model: index, pool: poolOf(here), today: today(here) });
  const { answered, all } = recordsAnswered(template, templates, records, index, env, 'answered');
  tell({ told: 'answered', answered, all });
}

function compile({ index, parts, template, looks }: Known, tree: Tree): CompiledTree {
  const byId = new Map(parts.map((part) => [part.id, part]));
  return compileTree(tree, scopesOf(template, index), index, {
    marked: true,
    parts: (id) => byId.get(id),
    id: template.id,
    looks,
  });
}

const today = ({ model }: Known) => localDay(new Date(), model.site.timeZone);

/** What visitors see of the records, made once for as long as these are the same. */
function poolOf(here: Known): Pool {
  if (here.made?.of !== here.records)
    here.made = { of: here.records, pool: columnsPool(here.records, here.media, here.index) };
  return here.made.pool;
}

const groundOf = (here: Known): RecordContext => ({ model: here.index, pool: poolOf(here), today: today(here) });

/** So many pages are looked at first; no more pages of archives than these are gone through, and no more turns. */
const MOST_PAGES = 500;
const MOST_TURNS = 3000;

const headOf = ({ id, title, record, archive, at }: Subject): Head => ({
  id,
  title,
  ...(record && { recordId: record.id }),
  ...(record && record.status !== 'published' && { draft: true }),
  ...(archive && { archive }),
  ...(at && { at }),
});

/** Goes on with something that tells how far it is, with a rest now and then; undefined where it was stopped. */
async function through<T>(steps: Generator<number, T>, stopped: () => boolean): Promise<T | undefined> {
  let since = performance.now();
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    if (performance.now() - since < 40) continue;
    await breathe();
    if (stopped()) return undefined;
    since = performance.now();
  }
}

/** The pages that a template answers, and of which records these are. */
async function pagesOf(
  here: Known,
  template: Serving,
  compiled: CompiledTree,
  set: ServedPage['set'],
  stopped: () => boolean,
): Promise<{ subjects: Subject[]; set: ServedPage['set'] } | undefined> {
  const { templates, index } = here;
  const env = makeEnv({ model: index, pool: poolOf(here), today: today(here) });
  let pages: Subject[];
  let given: ServedPage['set'] = 'answered';
  if (template.purpose === 'archive') {
    const answered = archivesAnswered(template, templates, here.records, index);
    given = answered.set;
    const made = await through(ofArchives(answered.archives, compiled, env, MOST_PAGES), stopped);
    if (!made) return undefined;
    pages = made;
  } else if (template.purpose === 'frame')
    pages = around(pagesSurrounded(template, templates, here.records, index, env));
  else {
    const answered = recordsAnswered(template, templates, here.records, index, env, set);
    given = answered.set;
    pages = ofRecords(answered.records);
  }
  return { subjects: pages, set: given };
}

/** What is gone through, and of which records that is. */
async function subjectsOf(
  here: Known,
  tree: Tree,
  compiled: CompiledTree,
  what: What,
  set: ServedPage['set'],
  stopped: () => boolean,
): Promise<{ subjects: Subject[]; set: ServedPage['set'] } | undefined> {
  if (what.is === 'places') return placesOf(here, tree, stopped);
  const pages = await pagesOf(here, here.template, compiled, set, stopped);
  if (!pages || what.is === 'pages') return pages;
  const turns = await through(ofIterations(what.loop, compiled, pages.subjects, groundOf(here), MOST_TURNS), stopped);
  return turns && { subjects: turns, set: pages.set };
}

/** Where the part stands on the pages that visitors get, as it is on screen. */
async function placesOf(
  here: Known,
  tree: Tree,
  stopped: () => boolean,
): Promise<{ subjects: Subject[]; set: ServedPage['set'] } | undefined> {
  const { template, index, holders } = here;
  const byId = new Map(here.parts.map((part) => [part.id, part.id === template.id ? { ...part, tree } : part]));
  const places: Subject[] = [];
  for (const holder of holders) {
    const compiled = compileTree(holder.tree, scopesOf(holder, index), index, { parts: (id) => byId.get(id) });
    const pages = await pagesOf(here, holder, compiled, 'answered', stopped);
    if (!pages) return undefined;
    if (pages.set === 'all') continue;
    const [most, first] = [MOST_TURNS - places.length, places.length + 1];
    const found = await through(ofPlaces(template.id, compiled, pages.subjects, groundOf(here), most, first), stopped);
    if (!found) return undefined;
    places.push(...found);
  }
  return { subjects: places, set: 'answered' };
}

async function cover({ job, tree, also, set, what }: Ask & { do: 'cover' }): Promise<void> {
  const here = known;
  if (!here) return;
  await here.whole;
  const began = performance.now();
  const compiled = compile(here, tree);
  const env = makeEnv({ model: here.index, pool: poolOf(here), today: today(here) });
  const stopped = () => latest.cover !== job;
  const found = await subjectsOf(here, tree, compiled, what, set, stopped);
  if (!found) return;
  const { subjects } = found;
  const kept = also.filter((id) => compiled.elements.has(id));
  const steps = coverageSteps(tree, compiled, subjects, env, kept, what.is === 'turns' ? what.loop : undefined);
  for (;;) {
    const step = steps.next();
    if (step.done) {
      const heads = subjects.map(headOf);
      const took = performance.now() - began;
      return tell({ told: 'covered', job, coverage: step.value, set: found.set, heads, took });
    }
    tell({ told: 'covering', job, done: step.value, of: subjects.length });
    await breathe();
    if (stopped()) return;
  }
}

function chosen(subjects: readonly Subject[], { term, longest }: Chosen, { index }: Known): Subject[] {
  const below = term ? new Set(index.below(term)) : undefined;
  const kept = below ? subjects.filter(({ record }) => record?.terms.some((id) => below.has(id))) : [...subjects];
  const lengthOf = ({ record }: Subject) => record?.title.length ?? 0;
  return longest ? kept.sort((a, b) => lengthOf(b) - lengthOf(a)) : kept;
}

async function draw({ job, tree, set, what, ids, most, choose }: Ask & { do: 'draw' }): Promise<void> {
  const here = known;
  if (!here) return;
  const stopped = () => latest.draw !== job;
  // Pages of records that are here are drawn at once; who chooses among all waits for them.
  if (!ids) await here.whole;
  if (stopped()) return;
  let compiled = compile(here, tree);
  const pool = poolOf(here);
  let subjects: Subject[];
  if (ids) {
    const byId = new Map(here.records.map((record) => [record.id, record]));
    subjects = ofRecords(ids.flatMap((id) => byId.get(id) ?? []));
  } else {
    const found = await subjectsOf(here, tree, compiled, what, set, stopped);
    if (!found) return;
    const all = choose ? chosen(found.subjects, choose, here) : found.subjects;
    subjects = all.slice(0, most);
    tell({ told: 'listed', job, heads: subjects.map(headOf), all: found.subjects.length });
  }
  const given = { model: here.index, pool, today: today(here) };
  const lookWith = (by: CompiledTree) => looksOf(tree, by, given, what.is === 'turns' ? what.loop : undefined);
  let look = lookWith(compiled);
  const of = subjects.length;
  let looks: Look[] = [];
  let since = performance.now();
  if (!of) tell({ told: 'drawing', job, looks, done: 0, of, css: compiled.css });
  for (const [i, subject] of subjects.entries()) {
    let drawn = look(subject);
    const [loaded, icons] = await Promise.all([allLoaded(), fetchMissingIcons()]);
    if (loaded || icons) {
      compiled = compile(here, tree);
      look = lookWith(compiled);
      drawn = look(subject);
    }
    looks.push(drawn);
    // Some at a time: the first are on screen while the rest is drawn.
    if (performance.now() - since < 40 && i < of - 1) continue;
    tell({ told: 'drawing', job, looks, done: i + 1, of, css: compiled.css });
    looks = [];
    await breathe();
    if (stopped()) return;
    since = performance.now();
  }
}

/** So long pages are looked through for such as lack something, where nobody waits for it, in milliseconds. */
const MOST_WORK = 20_000;

/**
 * Looks for pages that lack something: at the first of them at once, and then at all, for as long as nothing else is asked and
 * it does not take too long: pages may hold long lists.
 */
async function judge({ job, tree, titled }: Ask & { do: 'judge' }): Promise<void> {
  const here = known;
  if (!here) return;
  const compiled = compile(here, tree);
  const stopped = () => latest.judge !== job;
  for (const most of [MOST_PAGES, Infinity]) {
    if (most === Infinity) await here.whole;
    const found = await pagesOf(here, here.template, compiled, 'answered', stopped);
    // What is designed with all records, since it answers none, is on no page.
    if (!found || found.set === 'all') return tell({ told: 'judged', job, lacking: { bare: [], untitled: [] } });
    const ground = groundOf(here);
    const lacking: Record<Lack, Head[]> = { bare: [], untitled: [] };
    let since = performance.now();
    let worked = 0;
    for (const subject of found.subjects.slice(0, most)) {
      const lack = lackOf(compiled.draw(envOf(subject, ground)));
      if (lack && !(lack === 'untitled' && titled)) lacking[lack].push(headOf(subject));
      const now = performance.now() - since;
      if (now < 40) continue;
      worked += now;
      if (worked > MOST_WORK) break;
      // What somebody waits for goes first, and half of the time is left to others.
      do await new Promise((done) => setTimeout(done, most === Infinity ? 40 : 0));
      while (waitedFor && !stopped());
      if (stopped()) return;
      since = performance.now();
    }
    tell({ told: 'judged', job, lacking });
    if (found.subjects.length <= most && !here.partial.length) return;
  }
}

noteMissingIcons();

self.onmessage = ({ data }: MessageEvent<Ask>) => {
  const failed = (error: unknown) => tell({ told: 'failed', why: (error as Error).message });
  if (data.do === 'ground') learn(data.ground);
  else if (data.do === 'stop') latest.cover = latest.draw = latest.judge = -1;
  else {
    latest[data.do] = data.job;
    if (data.do === 'judge') judge(data).catch(failed);
    else {
      waitedFor++;
      (data.do === 'cover' ? cover(data) : draw(data)).catch(failed).finally(() => waitedFor--);
    }
  }
};
