import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { coverageOf, smallestLook, type Coverage } from '../../src/lib/core/coverage/coverage';
import { differenceOf } from '../../src/lib/core/coverage/difference';
import { looksOf } from '../../src/lib/core/coverage/look';
import { combinationsThatCan } from '../../src/lib/core/coverage/witnesses';
import { ofPlaces } from '../../src/lib/core/coverage/places';
import { ofArchives, ofRecords } from '../../src/lib/core/coverage/subjects';
import { addressOfArchive } from '../../src/lib/core/addresses/archives';
import type { Tree } from '../../src/lib/core/schema/element';
import { Refusal } from '../../src/lib/server/base/refusal';
import type { Target } from '../../src/lib/core/schema/target';
import { localDay } from '../../src/lib/core/base/write';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { makeEnv } from '../../src/lib/core/paths/env';
import { compileTree, scopesOf } from '../../src/lib/core/render/compile';
import { archivesAnswered, recordsAnswered } from '../../src/lib/core/serving/answers';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import { workbenchRecords } from '../../src/lib/server/services/lists';
import { readModel } from '../../src/lib/server/services/model';
import { changeRecord, createRecord, readRecord } from '../../src/lib/server/services/records';
import { pendingChanges, release } from '../../src/lib/server/services/releases';
import {
  createTemplate,
  partsAmong,
  readTemplate,
  readTemplateHeads,
  readTemplates,
  saveTemplate,
} from '../../src/lib/server/services/templates';
import { affectedPages } from '../../src/lib/server/site/affected';
import { answer, inspect } from '../../src/lib/server/site/respond';
import { resolutionAt } from '../../src/lib/server/site/serving';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { archiveTarget, housesAndWays, seenIn, SHARED, target, treeOfArchives, treeOfHouses } from '../support/oracle';
import { drained } from '../support/drained';
import { moveTerm } from '../support/services';

/** So many designs stand over the same records. */
const DESIGNS = 10;
/** Generated sites, each published: `npm run oracle` asks for 1,000 (PLUM_TEST_SITES), or for those of another seed (PLUM_TEST_SEED). */
const SITES = Number(process.env.PLUM_TEST_SITES ?? 150);
/** Another one in each run; a site that fails is named by it. */
const SEED = Number(process.env.PLUM_TEST_SEED ?? Date.now() % 2 ** 31);
/** Sites that failed once, by the name that the failure told, and the first of all: each is looked at again in every run, with those before it over the same records. */
const REGRESSIONS = ['20261128/9'];

const surroundings = { base: '', origin: 'https://a.example' };
const still = { signal: new AbortController().signal, report: () => undefined };

let drop: () => Promise<void>;
/** Ids in the database by those of the generator. */
const ids = new Map<number, number>();
beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  for (const id of [91, 92]) ids.set(id, (await createRecord('way', { title: `way ${id}`, status: 'published' })).id);
  for (const id of [1, 2, 3, 4, 5]) ids.set(id, (await createRecord('house', { title: `house ${id}` })).id);
  for (const prefix of ['a', 'b', 'c'])
    await createTemplate({ id: prefix, name: prefix, purpose: 'record', typeId: 'house' });
  await createTemplate({ id: SHARED, name: SHARED, purpose: 'part', typeId: 'house' });
  await createTemplate({ id: 'd', name: 'd', purpose: 'archive', serves: [{ on: 'type', typeId: 'house' }] });
});
afterAll(() => drop());

const withoutParts = ({ root, elements }: Tree): Tree => ({
  root,
  elements: Object.fromEntries(
    Object.entries(elements).flatMap(([id, element]) => {
      const children = element.children.filter((child) => elements[child]?.kind !== 'part');
      return element.kind === 'part' ? [] : [[id, { ...element, children }]];
    }),
  ),
});

const turnedRound = ({ root, elements }: Tree): Tree => ({
  root,
  elements: Object.fromEntries(
    Object.entries(elements).map(([id, element]) => [
      id,
      element.rule
        ? {
            ...element,
            rule: { ...element.rule, group: element.rule.group === 'none' ? ('any' as const) : ('none' as const) },
          }
        : element,
    ]),
  ),
});

async function write(records: readonly ContentRecord[]): Promise<void> {
  for (const { id, typeId, values, status, terms } of records) {
    if (typeId !== 'house') continue;
    const own = ids.get(id) as number;
    const version = (await readRecord(own))?.version;
    const ways = ((values.ways as number[] | undefined) ?? []).map((way) => ids.get(way));
    const whole = Object.fromEntries(
      ['name', 'story', 'height', 'open', 'state'].map((key) => [key, values[key] ?? null]),
    );
    await changeRecord(own, { version, status, terms, values: { ...whole, ways } });
  }
}

const ofRecord = (prefix: string) =>
  fc.record({
    tree: treeOfHouses(prefix),
    serves: fc.array(target, { minLength: 1, maxLength: 3 }),
    except: fc.array(target, { maxLength: 1 }),
  });
const design = fc.record({
  a: ofRecord('a'),
  b: ofRecord('b'),
  c: ofRecord('c'),
  d: fc.record({
    tree: treeOfArchives('d'),
    serves: fc.array(archiveTarget, { minLength: 1, maxLength: 2 }),
    except: fc.constant<Target[]>([]),
  }),
  shared: treeOfHouses('p'),
});
type Design = typeof design extends fc.Arbitrary<infer One> ? One : never;
const ARCHIVES = [
  '/',
  '/houses/',
  '/houses/page/2/',
  '/ways/',
  '/area/north/',
  '/area/hill/',
  '/area/peak/',
  '/area/south/',
];

interface Site {
  /** Its seed, and which one of that seed it is. */
  name: string;
  index: number;
  design: Design;
  /** The design that stood over the same records before. */
  previous?: Design;
  /** What is in the database from this site on; without, what is there stays. */
  contents?: readonly ContentRecord[];
}

/** The generated sites of a seed from one to another (exclusive); the first begins with records of its own. */
function sitesOf(seed: number, from: number, to: number): Site[] {
  const designs = fc.sample(design, { numRuns: to, seed });
  const contents = fc.sample(housesAndWays, { numRuns: Math.ceil(to / DESIGNS), seed });
  return designs.slice(from).map((one, i): Site => {
    const index = from + i;
    const isFirst = index % DESIGNS === 0;
    return {
      name: `${seed}/${index}`,
      index,
      design: one,
      ...(isFirst ? { contents: contents[index / DESIGNS] } : { previous: designs[index - 1] }),
    };
  });
}

/** The sites over the same records up to the one of this name. */
function sitesBy(name: string): Site[] {
  const [seed = 0, index = 0] = name.split('/').map(Number);
  return sitesOf(seed, index - (index % DESIGNS), index + 1);
}

it('names a generated site by what generates it again', () => {
  const [sites, again] = [sitesOf(7, 0, 25), sitesBy('7/23')];
  expect(again.map(({ name }) => name)).toEqual(['7/20', '7/21', '7/22', '7/23']);
  expect(again).toEqual(sites.slice(20, 24));
});

const sites = [...REGRESSIONS.flatMap(sitesBy), ...sitesOf(SEED, 0, SITES)];
it(`tells of ${sites.length} generated sites (seed ${SEED}) what visitors get`, async () => {
  /** What was asked, so that nothing holds for want of cases. */
  const cases = {
    changed: 0,
    answered: 0,
    shown: 0,
    hidden: 0,
    why: 0,
    inParts: 0,
    archives: 0,
    contests: 0,
    turned: 0,
    combined: 0,
  };
  /** The pages as the site made before has them. */
  let before: Map<string, string> | undefined;
  /** What was counted of each template in that site, and what its pages had. */
  let counted = new Map<string, { coverage: Coverage; seen: Map<number, Map<string, number>> }>();
  for (const { name: at, index, design: generated, previous, contents } of sites) {
    if (contents) {
      before = undefined;
      counted = new Map();
      await write(contents);
      // Terms change their places too, and with them what is filed below others.
      await moveTerm('peak', { parentId: ['hill', 'south', 'north', null][(index / DESIGNS) % 4] });
    }
    const model = await readModel();
    const { records } = await workbenchRecords();
    const published = records.filter(({ status }) => status === 'published');
    const pathOf = ({ typeId, slug }: ContentRecord) => `/${typeId === 'house' ? 'houses' : 'ways'}/${slug}`;
    const pages = async () =>
      new Map(
        await Promise.all(
          [...published.map(pathOf), ...ARCHIVES].map(async (path): Promise<[string, string]> => [
            path,
            (await answer(path, surroundings)).html.replace(/\/styles\/[\w-]+\.css/g, ''),
          ]),
        ),
      );
    before ??= await pages();
    const { shared, ...own } = generated;
    // Every other site is the one before with the rules of one template turned round, so that much is gained and lost.
    const earlierA = index % 2 ? previous?.a : undefined;
    if (earlierA) own.a = { ...earlierA, tree: turnedRound(earlierA.tree) };
    // It cannot stand in itself.
    const inner = withoutParts(shared);
    await saveTemplate(SHARED, { ...(await readTemplate(SHARED)), tree: inner });
    for (const [id, one] of Object.entries(own)) {
      const template = await readTemplate(id);
      const serves = one.serves.map((wanted) =>
        wanted.on === 'records' ? { ...wanted, ids: wanted.ids.map((record) => ids.get(record) as number) } : wanted,
      );
      const whole = { ...template, serves, except: one.except.length ? one.except : undefined };
      // A part for houses finds none where only ways are; then the template is made without it.
      await saveTemplate(id, { ...whole, tree: one.tree }).catch((error: unknown) => {
        if (!(error instanceof Refusal) || error.status !== 422) throw error;
        return saveTemplate(id, { ...whole, tree: withoutParts(one.tree) });
      });
    }
    // What a release would change is what it does change.
    const told = await affectedPages(still, '');
    if ((await pendingChanges()).changes.length) await release();
    const after = await pages();
    const changed = [...after].flatMap(([path, html]) => (html === before?.get(path) ? [] : [path]));
    before = after;
    // Of an archive its first page is told; years and months are not looked at here.
    const used = new Set(published.flatMap(({ terms }) => terms.flatMap((term) => model.above(term))));
    const there = (path: string) => {
      const term = /^\/area\/(.*)\/$/.exec(path)?.[1];
      return term === undefined || used.has(term);
    };
    const ours = (paths: string[]) =>
      paths.filter((path) => after.has(path) && !path.includes('/page/') && there(path)).sort();
    expect([at, ours(told.some.map(({ address }) => address))]).toEqual([at, ours(changed)]);

    cases.changed += changed.length;

    // Which records a template answers, and where its sections appear.
    const heads = await readTemplateHeads();
    const pool = memoryPool(records, [], false);
    const env = () => makeEnv({ model, pool, today: localDay(new Date(), model.site.timeZone) });
    const parts = partsAmong(await readTemplates());
    const earlier = counted;
    counted = new Map();
    for (const id of ['a', 'b', 'c']) {
      const template = await readTemplate(id);
      const { set, records: own, answered } = recordsAnswered(template, heads, records, model, env());
      const seen = new Map(published.map((one) => [one.id, seenIn(after.get(pathOf(one)) ?? '', template.tree)]));
      const there = published.filter((one) => seen.get(one.id)?.get(`${id}1`)).map((one) => one.id);
      expect([at, id, answered]).toEqual([at, id, there.length]);
      cases.answered += answered;
      if (set === 'all') continue;
      expect([at, id, own.map((one) => one.id).sort()]).toEqual([at, id, there.sort()]);
      const compiled = compileTree(template.tree, scopesOf(template, model), model, { marked: true, id, parts });
      const coverage = coverageOf(template.tree, compiled, ofRecords(own), env());
      const { sections, shown, totals, turns } = coverage;
      counted.set(id, { coverage, seen });
      // What a section gained and lost is what pages that this template answered before, too, have now and had not.
      const past = earlier.get(id);
      for (const { id: section } of sections) {
        const told = past && differenceOf(past.coverage, coverage, section);
        if (!told || section.includes('>')) continue;
        const has = (on: Map<number, Map<string, number>>, page: number) => Boolean(on.get(page)?.get(section));
        const both = coverage.ids.filter((page) => past.coverage.ids.includes(page));
        const gained = both.filter((page) => has(seen, page) && !has(past.seen, page));
        const lost = both.filter((page) => !has(seen, page) && has(past.seen, page));
        expect([at, id, section, told]).toEqual([at, id, section, { gained, lost }]);
        cases.turned += gained.length + lost.length;
      }
      // What stands in a part is found in the page by its own class, wherever the part is placed.
      const inPart = own.map((one) => seenIn(after.get(pathOf(one)) ?? '', inner));
      for (const element of Object.keys(inner.elements)) {
        const places = sections.flatMap((one, i) => (one.id.split('>')[1] === element ? [i] : []));
        if (!places.length) continue;
        const counted = places.reduce((sum, i) => sum + (turns[i]?.drawn ?? totals[i] ?? 0), 0);
        const there = inPart.reduce((sum, one) => sum + (one.get(element) ?? 0), 0);
        expect([at, id, element, counted]).toEqual([at, id, element, there]);
        cases.inParts += there;
      }
      const places = drained(ofPlaces(SHARED, compiled, ofRecords(own), env(), 1000));
      expect([at, id, places.length]).toEqual([
        at,
        id,
        inPart.reduce((sum, one) => sum + (one.get(inner.root) ?? 0), 0),
      ]);
      const look = looksOf(template.tree, compiled, env());
      for (const [i, section] of sections.entries())
        if (!section.id.includes('>'))
          expect([at, id, section.id, [...(shown[i] as Uint8Array)]]).toEqual([
            at,
            id,
            section.id,
            own.map((one) => (seen.get(one.id)?.get(section.id) ? 1 : 0)),
          ]);
      for (const row of shown) for (const on of row) cases[on ? 'shown' : 'hidden']++;
      // A few pages show every section that any shows, and lack every one that any lacks.
      const chosen = smallestLook(coverage).map((page) => seen.get(page));
      for (const { id: section } of sections) {
        const has = (page: Map<string, number> | undefined) => Boolean(page?.get(section));
        const both = [...new Set(own.map((one) => has(seen.get(one.id))))].sort();
        if (!section.includes('>'))
          expect([at, section, [...new Set(chosen.map(has))].sort()]).toEqual([at, section, both]);
      }
      // What the proof sheet marks as there is there, and what the contest says answers.
      for (const subject of ofRecords(own)) {
        const drawn = new Set(look(subject).drawn.filter((one) => !one.includes('>')));
        const page = seen.get(subject.id) as Map<string, number>;
        expect([at, id, [...page].filter(([one, n]) => drawn.has(one) !== n > 0)]).toEqual([at, id, []]);
        const { contests } = await resolutionAt(pathOf(subject.record as ContentRecord), 'released');
        expect([at, contests.find(({ purpose }) => purpose === 'record')?.candidates[0]?.id]).toEqual([at, id]);
        cases.contests++;
      }
      // Combinations of what may be hidden, and which records are like each: what it leaves out is on no page of these, and
      // what it has is there unless nothing fills it.
      const { sections: combining, combinations, more } = combinationsThatCan(template.tree, compiled.elements, env());
      for (const subject of ofRecords(own)) {
        const asked = { ...env(), record: subject.record };
        const met = combinations.filter(({ wanted }) => wanted.every(({ rule, holds }) => rule.holds(asked) === holds));
        expect([at, id, subject.id, more ? met.length <= 1 : met.length === 1]).toEqual([at, id, subject.id, true]);
        const [one] = met;
        if (!one) continue;
        const [page, empty] = [seen.get(subject.id), new Set(look(subject).empty)];
        const told = combining.filter((_, i) => one.pattern[i] === '1').map((section) => section.id);
        const there = combining.filter((section) => page?.get(section.id)).map((section) => section.id);
        const wrong = [
          there.filter((section) => !told.includes(section)),
          told.filter((section) => !there.includes(section) && !empty.has(section)),
        ];
        expect([at, id, subject.id, wrong]).toEqual([at, id, subject.id, [[], []]]);
        cases.combined++;
      }
      // Why, as the published page tells it.
      const [first] = own;
      if (!first) continue;
      const { inspection } = await inspect(pathOf(first), surroundings);
      expect([at, inspection.template?.id]).toEqual([at, id]);
      cases.why += inspection.elements.length;
      for (const { id: element, why } of inspection.elements)
        expect([at, element, why.shown]).toEqual([at, element, Boolean(seen.get(first.id)?.get(element))]);
    }

    // Which archives its template answers, each page of them, and what stands in how many turns there.
    const list = await readTemplate('d');
    const compiled = compileTree(list.tree, scopesOf(list, model), model, { marked: true, id: 'd', parts });
    const { set, archives } = archivesAnswered(list, heads, records, model);
    const subjects = set === 'all' ? [] : drained(ofArchives(archives, compiled, env(), 100));
    const addressed = subjects.map((one) => addressOfArchive(one.archive!, model, one.archive!.page));
    const is = (path: string) => Boolean(seenIn(after.get(path) ?? '', list.tree).get('d1'));
    for (const path of ARCHIVES) {
      // One that lists nothing is looked at only where there is no other.
      if (!there(path)) continue;
      expect([at, path, addressed.includes(path)]).toEqual([at, path, is(path)]);
      cases.archives += Number(is(path));
    }
    const looked = subjects.filter((_, i) => after.has(addressed[i]!));
    const { sections, turns } = coverageOf(list.tree, compiled, looked, env());
    for (const [i, { id }] of sections.entries()) {
      if (id.includes('>')) continue;
      const there = looked.map((one) => after.get(addressOfArchive(one.archive!, model, one.archive!.page)) ?? '');
      const sum = there.reduce((all, html) => all + (seenIn(html, list.tree).get(id) ?? 0), 0);
      expect([at, id, turns[i]?.drawn]).toEqual([at, id, sum]);
    }
  }
  // Parts come about in fewer of them.
  for (const [name, count] of Object.entries(cases))
    expect([name, count > (name === 'inParts' ? sites.length / 4 : sites.length)]).toEqual([name, true]);
});
