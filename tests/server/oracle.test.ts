import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { coverageOf } from '../../src/lib/core/coverage/coverage';
import { ofRecords } from '../../src/lib/core/coverage/subjects';
import { localDay } from '../../src/lib/core/base/write';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { makeEnv } from '../../src/lib/core/paths/env';
import { compileTree, scopesOf } from '../../src/lib/core/render/compile';
import { recordsAnswered } from '../../src/lib/core/serving/answers';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import { workbenchRecords } from '../../src/lib/server/services/lists';
import { readModel } from '../../src/lib/server/services/model';
import { changeRecord, createRecord, readRecord } from '../../src/lib/server/services/records';
import { pendingChanges, release } from '../../src/lib/server/services/releases';
import { createTemplate, readTemplate, readTemplateHeads, saveTemplate } from '../../src/lib/server/services/templates';
import { affectedPages } from '../../src/lib/server/site/affected';
import { answer, inspect } from '../../src/lib/server/site/respond';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { housesAndWays, seenIn, target, treeOfHouses } from '../support/oracle';

/** Sites made up, each published; PLUM_TEST_SITES asks for more. A failing one tells its seed. */
const SITES = Number(process.env.PLUM_TEST_SITES ?? 250);
const SEED = Number(process.env.PLUM_TEST_SEED ?? 20261128);
/** So many designs stand over the same records. */
const DESIGNS = 10;

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
});
afterAll(() => drop());

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

const design = fc.record(
  Object.fromEntries(
    ['a', 'b', 'c'].map((prefix) => [
      prefix,
      fc.record({
        tree: treeOfHouses(prefix),
        serves: fc.array(target, { minLength: 1, maxLength: 3 }),
        except: fc.array(target, { maxLength: 1 }),
      }),
    ]),
  ),
);

it(`is told of ${SITES} made-up sites as visitors get them`, { timeout: 3_600_000 }, async () => {
  const designs = fc.sample(design, { numRuns: SITES, seed: SEED });
  const contents = fc.sample(housesAndWays, { numRuns: Math.ceil(SITES / DESIGNS), seed: SEED });
  /** What was asked, so that nothing holds for want of cases. */
  const cases = { changed: 0, answered: 0, shown: 0, hidden: 0, why: 0 };
  /** The pages as the site made before has them. */
  let before: Map<string, string> | undefined;
  for (const [at, made] of designs.entries()) {
    if (at % DESIGNS === 0) {
      before = undefined;
      await write(contents[at / DESIGNS] as ContentRecord[]);
    }
    const model = await readModel();
    const { records } = await workbenchRecords();
    const published = records.filter(({ status }) => status === 'published');
    const pathOf = ({ typeId, slug }: ContentRecord) => `/${typeId === 'house' ? 'houses' : 'ways'}/${slug}`;
    const pages = async () =>
      new Map(
        await Promise.all(
          published.map(async (record): Promise<[string, string]> => [
            pathOf(record),
            (await answer(pathOf(record), surroundings)).html.replace(/\/styles\/[\w-]+\.css/g, ''),
          ]),
        ),
      );
    before ??= await pages();
    for (const [id, one] of Object.entries(made)) {
      const template = await readTemplate(id);
      const serves = one.serves.map((wanted) =>
        wanted.on === 'records' ? { ...wanted, ids: wanted.ids.map((record) => ids.get(record) as number) } : wanted,
      );
      await saveTemplate(id, {
        ...template,
        tree: one.tree,
        serves,
        except: one.except.length ? one.except : undefined,
      });
    }
    // What a release would change is what it does change.
    const told = await affectedPages(still, '');
    if ((await pendingChanges()).changes.length) await release();
    const after = await pages();
    const changed = [...after].flatMap(([path, html]) => (html === before?.get(path) ? [] : [path]));
    before = after;
    expect([at, told.some.map(({ address }) => address).sort()]).toEqual([at, changed.sort()]);

    cases.changed += changed.length;

    // Which records a template answers, and where its sections appear.
    const heads = await readTemplateHeads();
    const pool = memoryPool(records, [], false);
    const env = () => makeEnv({ model, pool, today: localDay(new Date(), model.site.timeZone) });
    for (const id of Object.keys(made)) {
      const template = await readTemplate(id);
      const { set, records: own, answered } = recordsAnswered(template, heads, records, model, env());
      const seen = new Map(published.map((one) => [one.id, seenIn(after.get(pathOf(one)) ?? '', template.tree)]));
      const there = published.filter((one) => seen.get(one.id)?.get(`${id}1`)).map((one) => one.id);
      expect([at, id, answered]).toEqual([at, id, there.length]);
      cases.answered += answered;
      if (set === 'all') continue;
      expect([at, id, own.map((one) => one.id).sort()]).toEqual([at, id, there.sort()]);
      const compiled = compileTree(template.tree, scopesOf(template, model), model, { marked: true, id });
      const { sections, shown } = coverageOf(template.tree, compiled, ofRecords(own), env());
      for (const [i, section] of sections.entries())
        expect([at, id, section.id, [...(shown[i] as Uint8Array)]]).toEqual([
          ...[at, id, section.id],
          own.map((one) => (seen.get(one.id)?.get(section.id) ? 1 : 0)),
        ]);
      for (const row of shown) for (const on of row) cases[on ? 'shown' : 'hidden']++;
      // Why, as the published page tells it.
      const [first] = own;
      if (!first) continue;
      const { inspection } = await inspect(pathOf(first), surroundings);
      expect([at, inspection.template?.id]).toEqual([at, id]);
      cases.why += inspection.elements.length;
      for (const { id: element, why } of inspection.elements)
        expect([at, element, why.shown]).toEqual([at, element, Boolean(seen.get(first.id)?.get(element))]);
    }
  }
  for (const [name, count] of Object.entries(cases)) expect([name, count > SITES]).toEqual([name, true]);
});
