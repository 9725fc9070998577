import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import { inventor } from '../../src/lib/core/content/invent';
import { inventValue } from '../../src/lib/core/model/kinds/rows';
import { parseValue } from '../../src/lib/core/model/field';
import type { Field } from '../../src/lib/core/schema/field';
import { kinds } from '../../src/lib/core/model/kinds';
import { addBytes, deleteMedia } from '../../src/lib/server/services/media';
import { readModel } from '../../src/lib/server/services/model';
import { createRecord, readRecord } from '../../src/lib/server/services/records';
import { deleteRecords, undoRemoval } from '../../src/lib/server/services/record-removal';
import { deleteTaxonomy, deleteTerm, mergeTerms } from '../../src/lib/server/services/taxonomies';
import { deleteContentType, saveContentType, saveContentTypes } from '../../src/lib/server/services/types';
import { previewKind } from '../../src/lib/server/services/kind-changes';
import { freshDatabase } from '../support/database';
import { dump, saveModel } from '../support/fill';
import { boxType, field } from '../support/world';
import { changeRecords } from '../support/services';

let drop: () => Promise<void>;
const options = { options: ['a', 'b', '12'].map((key) => ({ key, label: key.toUpperCase() })) };
/** Settings of a new field of each kind that other kinds' values may become. */
const SETTINGS: Record<string, object> = {
  choice: options,
  choices: options,
  rows: { fields: [field('sub', 'text')] },
};
const NAMES = kinds.filter((kind) => kind.forFields && kind.name !== 'relation').map((kind) => kind.name);
const kit = (kind: string): Field => field('kit', kind, SETTINGS[kind] as Record<string, unknown> | undefined);
const box = (fields: Field[]) => boxType(fields, ['area']);
let media: number[] = [];

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  media = [];
  for (const size of [4, 5, 6])
    media.push(
      (
        await addBytes(
          `${size}.svg`,
          Buffer.from(
            `<svg xmlns="http://www.w3.org/2000/svg" width="${size}" height="4"><rect width="4" height="4"/></svg>`,
          ),
        )
      ).id,
    );
});
afterAll(() => drop());

describe('a change of kind', () => {
  // Every kind into every other would take minutes; each is tried as the former and as the latter, by turns.
  const pairs = NAMES.flatMap((from, i) =>
    [1, 4, 9].map((step): [string, string] => [from, NAMES[(i + step) % NAMES.length] as string]),
  );

  it.each(pairs)('from %s to %s keeps and loses what the preview says', async (from, to) => {
    await saveContentType(box([kit(from)]));
    const make = {
      ...inventor(NAMES.indexOf(from) + 11),
      today: 20_000,
      pictures: media,
      files: media,
      records: () => [],
    };
    const ids: number[] = [];
    for (let i = 0; i < 5; i++) {
      const value = i === 4 ? null : inventValue(kit(from), make);
      ids.push((await createRecord('box', { title: `Box ${i}`, values: { kit: value ?? null } })).id);
    }
    const preview = await previewKind('box', kit(to));
    expect(preview.kept + preview.lost + preview.empty).toBe(5);
    await saveContentType(box([kit(to)]));
    const values = await Promise.all(ids.map(async (id) => (await readRecord(id))?.values.kit));
    expect(values.filter((value) => value !== undefined)).toHaveLength(preview.kept);
    // What was kept is a value of the new kind, as if it had been typed in.
    for (const value of values) expect(parseValue(kit(to), value, '')).toEqual({ ok: true, value });
    await deleteRecords(ids);
  });
});

describe('what is undone', () => {
  it('leaves everything exactly as it was, in whatever order things went', async () => {
    const parts = field('parts', 'rows', {
      fields: [
        field('what', 'text'),
        field('shot', 'picture'),
        field('maker', 'relation', { relationId: 'mk', side: 'a', many: false, typeIds: ['person'] }),
      ],
    });
    const fields = [
      { ...field('code', 'text'), unique: true },
      field('body', 'richtext'),
      field('shots', 'pictures'),
      parts,
    ];
    await saveContentType(box(fields));
    const person = await createRecord('person', { title: 'P', status: 'published', values: { face: media[0] } });
    const way = await createRecord('way', { title: 'W', values: { km: 0 } });
    const houses: ContentRecord[] = [];
    for (let i = 0; i < 4; i++)
      houses.push(
        await createRecord('house', {
          title: `H${i}`,
          status: i % 2 ? 'draft' : 'published',
          terms: i ? ['peak', 'south'] : ['hill'],
          values: { height: i, photo: media[i % 3], keeper: i % 2 ? [person.id] : [], ways: [way.id] },
        }),
      );
    await createRecord('box', {
      title: 'B',
      terms: ['hill'],
      values: {
        code: 'X',
        body: `<p>a</p><img src="/media/${media[1]}/original" />`,
        shots: media,
        parts: [{ what: 'w', shot: media[2], maker: [person.id] }, { maker: [person.id] }],
      },
    });
    const before = await dump();
    const removals: (() => Promise<string | undefined>)[] = [
      async () => (await deleteRecords([person.id])).removal,
      async () => (await deleteRecords(houses.map((house) => house.id))).removal,
      async () => (await deleteMedia(media)).removal,
      async () => (await deleteTerm('hill', { records: 'south' })).removal,
      async () => (await mergeTerms('north', 'peak')).removal,
      async () => (await deleteTaxonomy('area')).removal,
      async () => (await saveContentTypes([box(fields.slice(1, 3))])).removal,
      async () => (await deleteContentType('person')).removal,
      async () => (await deleteContentType('box')).removal,
      async () =>
        (
          await changeRecords({
            ids: houses.map((house) => house.id),
            status: 'published',
            addTerms: ['north'],
            takeTerms: ['south'],
          })
        ).removal,
    ];
    for (const [i, remove] of removals.entries()) {
      const removal = await remove();
      expect([i, removal]).toEqual([i, expect.any(String)]);
      expect(await dump()).not.toEqual(before);
      await undoRemoval(removal as string);
      expect([i, await dump()]).toEqual([i, before]);
    }
    // And one inside another, taken back in turn.
    const outer = await deleteMedia(media.slice(0, 1));
    const inner = await deleteRecords([houses[1]!.id, person.id]);
    await undoRemoval(inner.removal);
    await undoRemoval(outer.removal);
    expect(await dump()).toEqual(before);
    expect((await readModel()).terms).toHaveLength(4);
  });
});
