import { FieldSchema } from '../../src/lib/core/schema/field';
import { inTransaction, run, select } from '../../src/lib/server/database/connect';
import { readModel } from '../../src/lib/server/services/model';
import { insertRecords } from '../../src/lib/server/services/records';
import { SlugBook } from '../../src/lib/server/services/slugs';
import { prepareDatabase } from '../../src/lib/server/services/start';
import { NewTerm, saveTaxonomy, saveTerm } from '../../src/lib/server/services/taxonomies';
import { saveContentType } from '../../src/lib/server/services/types';
import { configuration } from '../../src/lib/server/base/server';

/** Two types alike in everything but how many records they have. */
export const SIZES = { few: 1_000, many: 100_000 };
export type Size = keyof typeof SIZES;

export const field = (id: string, kind: string, settings: object = {}) =>
  FieldSchema.parse({ id, key: id, label: id, kind, settings });
const STATES = ['open', 'closing', 'closed'].map((key) => ({ key, label: key }));
const TAGS = ['stove', 'drying', 'dogs', 'books', 'water', 'wood'].map((key) => ({ key, label: key }));
const TERMS = 30;
const WORDS =
  'above across again before beside between beyond board bridge bunk corrie door early evening frost gate ground hearth inside kettle ladder lantern late ledger meadow morning narrow north open path rain ridge river road roof shelter shingle slope snow south stair stone stove stream summit table tarn timber track upper valley wall water weather west wind window winter wood'.split(
    ' ',
  );
/** So many words, always the same for a number; some are in one text of a thousand alone. */
export const wordsFor = (n: number, count: number): string =>
  Array.from({ length: count }, (_, i) => {
    const at = Math.imul(n + i * 7919, 2246822519) >>> 0;
    return at % 40 ? WORDS[at % WORDS.length] : `word${at % 1000}`;
  }).join(' ');

/** Fills an empty database with records of both types; their mixture is the same whatever their number. */
export async function fillBoth(): Promise<void> {
  const began = Date.now();
  for (const [name, size] of Object.entries(SIZES)) await fillOne(name, size);
  console.log(`Filled in ${((Date.now() - began) / 1000).toFixed(0)} s.`);
}

/** Fills a database with so many records of one type, a multiple of a thousand. */
export async function fillOne(name: string, size: number): Promise<void> {
  await makeType(name);
  await fillRows(name, 0, size);
}

/**
 * A type of the shape that sites have: thirteen fields, among them a story of some 130 words, relations to one and to
 * several, and a taxonomy with a tree.
 */
async function makeType(name: string): Promise<void> {
  await prepareDatabase();
  await saveTaxonomy({ id: `${name}_area`, key: `${name}_area`, name: `${name} area`, tree: true });
  for (let i = 0; i < TERMS; i++)
    await saveTerm(
      NewTerm.parse({
        id: `${name}_t${i}`,
        taxonomyId: `${name}_area`,
        parentId: i < 5 ? null : `${name}_t${i % 5}`,
        name: `Area ${i}`,
        slug: `area-${i}`,
        position: i,
      }),
    );
  await saveContentType({
    id: name,
    key: name,
    name,
    plural: `${name} things`,
    base: `${name}-things`,
    taxonomyIds: [`${name}_area`],
    fields: [
      field(`${name}_height`, 'number'),
      field(`${name}_state`, 'choice', { options: STATES }),
      field(`${name}_line`, 'text'),
      field(`${name}_day`, 'date'),
      field(`${name}_kin`, 'relation', { relationId: `${name}_kin`, side: 'a', many: false, typeIds: [name] }),
      field(`${name}_near`, 'relation', { relationId: `${name}_near`, side: 'a', many: true, typeIds: [name] }),
      field(`${name}_story`, 'richtext'),
      field(`${name}_about`, 'longtext'),
      field(`${name}_share`, 'number'),
      field(`${name}_open`, 'yesno'),
      field(`${name}_tags`, 'choices', { options: TAGS }),
      field(`${name}_call`, 'phone'),
      field(`${name}_link`, 'link'),
    ],
  });
}

/** Puts in the records from the one number to below the other, each a multiple of a thousand. */
export async function fillRows(name: string, first: number, size: number): Promise<void> {
  const model = await readModel();
  const type = model.type(name)!;
  for (let from = first; from < size; from += 1000)
    await inTransaction(async (transaction) => {
      const { problems } = await insertRecords(
        model,
        type,
        Array.from({ length: 1000 }, (_, i) => {
          // Spread evenly whatever the size, so that both have the same mixture.
          const n = Math.imul(from + i + 1, 2654435761) >>> 0;
          return {
            title: `Thing ${n.toString(36)} ${from + i}`,
            status: n % 20 ? 'published' : 'draft',
            terms: [`${name}_t${n % TERMS}`],
            values: {
              [`${name}_height`]: n % 7 ? n % 4000 : null,
              [`${name}_state`]: STATES[n % 3]?.key,
              [`${name}_line`]: `A line about ${n % 1000}`,
              [`${name}_day`]: `20${10 + (n % 16)}-0${1 + (n % 9)}-1${n % 10}`,
              [`${name}_story`]: `<p>${wordsFor(n, 60)}.</p><h2>${wordsFor(n + 1, 4)}</h2><p>${wordsFor(n + 2, 70)}.</p>`,
              [`${name}_about`]: n % 4 ? wordsFor(n + 3, 20) : null,
              [`${name}_share`]: n % 3 ? (n % 1000) / 8 : null,
              [`${name}_open`]: n % 2 === 0,
              [`${name}_tags`]: TAGS.filter((_, i) => (n >> i) & 1).map(({ key }) => key),
              [`${name}_call`]: n % 5 ? `+44 1632 960${String(n % 1000).padStart(3, '0')}` : null,
              [`${name}_link`]: n % 6 ? { url: `https://huts.example/${n}` } : null,
            },
          };
        }),
        transaction,
        new SlugBook(name),
      );
      if (problems.length)
        throw new Error(`The records to measure with cannot be put in: ${JSON.stringify(problems[0])}`);
    });
  // Each is kin to the one before it.
  await run('DELETE FROM links WHERE relation_id = ?', [`${name}_kin`]);
  await run(
    'INSERT INTO links (relation_id, a_id, b_id, a_position, b_position) SELECT ?, x.id, x.kin, 0, 0 FROM (SELECT id, LAG(id) OVER (ORDER BY id) AS kin FROM records WHERE type_id = ?) x WHERE x.kin IS NOT NULL',
    [`${name}_kin`, name],
  );
  // And near the two before that one.
  await run('DELETE FROM links WHERE relation_id = ?', [`${name}_near`]);
  for (const back of [2, 3])
    await run(
      'INSERT INTO links (relation_id, a_id, b_id, a_position, b_position) SELECT ?, x.id, x.near, ?, ? FROM (SELECT id, LAG(id, ?) OVER (ORDER BY id) AS near FROM records WHERE type_id = ?) x WHERE x.near IS NOT NULL',
      [`${name}_near`, back - 2, back - 2, back, name],
    );
  await select('ANALYZE TABLE records, record_index, record_counts, record_terms, record_words');
}

export const median = (times: number[]): number => times.sort((a, b) => a - b)[Math.floor(times.length / 2)] as number;

/** Times two ways of doing something by turns, and prints both with their ratio. */
export async function compare(
  label: string,
  rounds: number,
  first: [string, () => Promise<unknown>],
  second: [string, () => Promise<unknown>],
  aim?: number,
): Promise<void> {
  const times: [number[], number[]] = [[], []];
  for (let round = 0; round < rounds + 5; round++)
    for (const [i, [, work]] of [first, second].entries()) {
      const from = performance.now();
      await work();
      if (round >= 5) times[i]!.push(performance.now() - from);
    }
  const [one, two] = [median(times[0]), median(times[1])];
  console.log(
    `${label.padEnd(44)} ${one.toFixed(2).padStart(8)} ms ${first[0]}  ${two.toFixed(2).padStart(8)} ms ${second[0]}  ratio ${(two / one).toFixed(2)}${aim === undefined ? '' : ` (aim: at most ${aim})`}`,
  );
}

/** Another database on the same server with what the one in use has now; its address. Constraints between tables are left out. */
export async function copyOfDatabase(name: string): Promise<string> {
  await run(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`, []);
  const tables = await select<{ name: string }>(
    `SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()`,
    [],
  );
  for (const table of tables) {
    await run(`CREATE TABLE ${name}.${table.name} LIKE ${table.name}`, []);
    await run(`INSERT INTO ${name}.${table.name} SELECT * FROM ${table.name}`, []);
  }
  return (configuration().database as string).replace(/\/[^/]*$/, `/${name}`);
}
