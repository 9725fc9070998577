import { afterAll, beforeAll, expect, it } from 'vitest';
import { OWN_PARTS } from '../../src/lib/core/base/reserved';
import { run } from '../../src/lib/server/database/connect';
import { readModel } from '../../src/lib/server/services/model';
import { saveContentType } from '../../src/lib/server/services/types';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { model } from '../support/world';
import { saveTaxonomy } from '../support/services';

let drop: () => Promise<void>;
beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
});
afterAll(() => drop());

it('addresses of the application are refused to types and taxonomies, and what has one already is read', async () => {
  const type = model.types[0]!;
  const taxonomy = model.taxonomies[0]!;
  for (const own of OWN_PARTS) {
    expect([own, (await refused(saveContentType({ ...type, base: own }))).status]).toEqual([own, 422]);
    const key = own.replaceAll('-', '_');
    expect([own, (await refused(saveTaxonomy({ ...taxonomy, key }))).status]).toEqual([own, 422]);
  }
  // From before it was refused.
  await run('UPDATE content_types SET base = ? WHERE id = ?', ['typefaces', type.id]);
  await run('UPDATE sites SET model_version = model_version + 1', []);
  const read = await readModel();
  expect(read.type(type.id)?.base).toBe('typefaces');
  // It can be worked on, and called otherwise.
  await saveContentType({ ...read.type(type.id)!, plural: 'Faces' });
  await saveContentType({ ...read.type(type.id)!, base: 'houses' });
  expect((await readModel()).type(type.id)?.base).toBe('houses');
});
