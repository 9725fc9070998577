import type { z } from 'zod';
import sharp from 'sharp';
import { dayOf, dayNumber } from '../src/lib/core/base/write';
import { enterServer } from '../src/lib/server/application/create-server';
import { run, select } from '../src/lib/server/database/connect';
import { table } from '../src/lib/server/database/tables';
import { addBytes } from '../src/lib/server/services/media';
import { modelMoved } from '../src/lib/server/queries/site';
import { readModel, saveSite } from '../src/lib/server/services/model';
import { release } from '../src/lib/server/services/releases';
import { createAccount } from '../src/lib/server/people/accounts';
import { isAnybodyThere } from '../src/lib/server/queries/people';
import { noteCreator, proposeRecord } from '../src/lib/server/queries/own';
import { prepareDatabase } from '../src/lib/server/services/start';
import { AuthorRequest, saveAuthor } from '../src/lib/server/services/authors';
import { NewTerm, saveTaxonomy, saveTerm } from '../src/lib/server/services/taxonomies';
import { saveContentType } from '../src/lib/server/services/types';
import { createRecord } from '../src/lib/server/services/records';
import { saveRule } from '../src/lib/server/services/rules';
import { createTemplate } from '../src/lib/server/services/templates';
import { landscape, portrait } from './pictures';
import { PASSWORD, people } from './people';
import { keptRules, menus, templates, typeDesigns } from './templates';
import { authors, facilities, journal, MONTHS, LANGUAGES, pages, roomsFor, speaks, topics, weekends } from './more';
import * as world from './world';

const keyOf = (label: string) => label.toLowerCase().replace(/\W+/g, '_');
const paragraphs = (text: string) =>
  text
    .split('\n\n')
    .map((part) => `<p>${part}</p>`)
    .join('');

/** Pictures under way, by name: several are drawn at a time, and each is taken when its turn comes. */
const drawn = new Map<string, Promise<Buffer>>();
const paint = (name: string, svg: string): Promise<Buffer> => {
  let made = drawn.get(name);
  if (!made) drawn.set(name, (made = sharp(Buffer.from(svg)).webp({ quality: 86, effort: 2 }).toBuffer()));
  return made;
};

const draw = async (name: string, svg: string, alt: string): Promise<number> =>
  (await addBytes(name, await paint(name, svg), alt)).id;

const addTerm = (term: z.input<typeof NewTerm>) => saveTerm(NewTerm.parse(term));
const addAuthor = (author: z.input<typeof AuthorRequest>) => saveAuthor(AuthorRequest.parse(author));

/** Puts the demo world into an empty database, through the same services as the screens. */
async function seed(): Promise<void> {
  await saveSite(world.site);
  for (const taxonomy of world.taxonomies) await saveTaxonomy(taxonomy);
  for (const [i, [slug, name, parts]] of world.regions.entries()) {
    await addTerm({
      id: slug,
      taxonomyId: 'region',
      parentId: null,
      name,
      slug,
      position: i,
      description: world.regionWords[slug],
    });
    for (const [j, [below, words]] of parts.entries())
      await addTerm({
        id: below,
        taxonomyId: 'region',
        parentId: slug,
        name: words,
        slug: below,
        position: j,
        description: world.regionWords[below],
      });
  }
  for (const [i, name] of facilities.entries())
    await addTerm({
      id: keyOf(name),
      taxonomyId: 'facility',
      parentId: null,
      name,
      slug: keyOf(name).replace(/_/g, '-'),
      position: i,
    });
  for (const [i, [name, description]] of topics.entries()) {
    const pictureId =
      i < 3 ? await draw(`topic-${i + 1}.webp`, landscape(`topic ${name}`, i === 1), `A scene for ${name}`) : null;
    await addTerm({
      id: keyOf(name),
      taxonomyId: 'topic',
      parentId: null,
      name,
      slug: keyOf(name),
      position: i,
      description,
      pictureId,
    });
  }
  for (const type of world.types) await saveContentType({ ...type, ...typeDesigns[type.id] });
  const authorIds: number[] = [];
  for (const [name, about, drawn] of authors)
    authorIds.push(
      (
        await addAuthor({
          name,
          about,
          pictureId: drawn ? await draw(`${name}.webp`, portrait(name), `${name}, drawn from the front`) : null,
        })
      ).id,
    );

  const today = dayNumber(new Date().toISOString().slice(0, 10));
  // Made one after the other, a day apart, so that "created" has an order of its own.
  let day = today - 400;
  const created = () => `${dayOf(day++)}T09:00:00Z`;

  const wardens: number[] = [];
  for (const [i, [name, since, drawn, about]] of world.wardens.entries()) {
    const picture = drawn ? await draw(`${name}.webp`, portrait(name), `${name}, drawn from the front`) : null;
    const record = await createRecord(
      'warden',
      {
        title: name,
        status: 'published',
        values: {
          warden_portrait: picture,
          warden_since: since,
          warden_languages: (speaks[i] ?? []).map((at) => keyOf(LANGUAGES[at] as string)),
          warden_about: about && paragraphs(about),
        },
      },
      { created: created() },
    );
    wardens.push(record.id);
  }
  const huts: number[] = [];
  for (const [i, hut] of world.huts.entries()) {
    const picture =
      hut.picture === false
        ? null
        : await draw(`hut-${i + 1}.webp`, landscape(`hut ${i} ${hut.title}`, true), `${hut.title} below its ridge`);
    const record = await createRecord(
      'hut',
      {
        title: hut.title,
        status: hut.draft ? 'draft' : 'published',
        terms: [
          ...(hut.region ? [hut.region] : []),
          ...facilities.filter((_, n) => (i * 5 + n * 3) % 7 < 3).map(keyOf),
        ],
        authorId: authorIds[i % 4] ?? null,
        values: {
          hut_picture: picture,
          hut_altitude: hut.altitude,
          hut_bunks: hut.bunks,
          hut_winter: hut.winter,
          hut_state: hut.state,
          hut_comfort: hut.comfort,
          hut_booking: hut.booking && { url: hut.booking },
          hut_description: hut.description && paragraphs(hut.description),
          hut_access: hut.access,
          hut_warning: hut.warning ?? '',
          hut_opened: hut.opened,
          hut_layout: hut.layout,
          hut_warden: hut.warden === undefined ? [] : [wardens[hut.warden]],
          ...(await stayingIn(hut, i, today)),
        },
      },
      { created: created() },
    );
    huts.push(record.id);
  }
  for (const [title, region, length, ascent, hours, grade, along, more = {}] of world.trails) {
    const picture =
      more.picture === false
        ? null
        : await draw(`trail-${title}.webp`, landscape(`trail ${title}`, false), `The way of ${title}`);
    await createRecord(
      'trail',
      {
        title,
        status: 'published',
        terms: [region],
        values: {
          trail_picture: picture,
          trail_length: length,
          trail_ascent: ascent,
          trail_hours: hours,
          trail_grade: grade,
          trail_about: more.about,
          trail_closed: more.closed === undefined ? null : dayOf(today + more.closed),
          trail_huts: along.map((at) => huts[at]),
          trail_months: monthsFor(grade).map(keyOf),
          trail_stages: stagesFor(
            length,
            ascent,
            along.map((at) => huts[at] as number),
          ),
        },
      },
      { created: created() },
    );
  }
  const scene = (i: number): [string, string] => [
    `journal-${i + 1}.webp`,
    landscape(`journal ${journal[i]?.title}`, i % 3 === 0),
  ];
  for (const [i, entry] of journal.entries()) {
    for (let ahead = i; ahead < Math.min(i + 4, journal.length); ahead++)
      if (journal[ahead]?.picture !== false) void paint(...scene(ahead));
    const picture =
      entry.picture === false ? null : await draw(...scene(i), `A drawing for “${entry.title.slice(0, 60)}”`);
    await createRecord(
      'entry',
      {
        title: entry.title,
        status: entry.draft ? 'draft' : 'published',
        terms: [keyOf(topics[entry.topic]?.[0] as string)],
        authorId: entry.author === undefined ? null : authorIds[entry.author],
        // About two a month, so that there are months to look back on.
        published: `${dayOf(today - 3 - (journal.length - i) * 16)}T08:30:00Z`,
        values: {
          entry_picture: picture,
          entry_body: `${paragraphs(entry.text)}<p>${CLOSING[i % CLOSING.length]}</p>`,
          entry_minutes: entry.minutes,
          entry_has_film: entry.film !== undefined,
          entry_film: entry.film && { src: `/player/${entry.film}`, title: `Film: ${entry.title}`.slice(0, 200) },
          entry_huts: (entry.huts ?? []).map((at) => huts[at]),
        },
      },
      { created: created() },
    );
  }
  const list = await addBytes(
    'what-to-bring.txt',
    Buffer.from('Gloves\nWaterproofs\nA torch\nSomething to share\n'),
    'What to bring, to print',
  );
  for (const [title, from, to, left, hut, bring] of weekends)
    await createRecord(
      'weekend',
      {
        title,
        status: 'published',
        values: {
          weekend_starts: dayOf(today + from),
          weekend_ends: dayOf(today + to),
          weekend_meet: '08:30',
          weekend_places: left,
          weekend_hut: [huts[hut]],
          weekend_bring: bring.map(([bring_what, bring_number]) => ({ bring_what, bring_number })),
          weekend_mail: 'hands@larkfell.example',
          weekend_list: list.id,
        },
      },
      { created: created() },
    );
  for (const [i, [title, body]] of pages.entries())
    await createRecord(
      'page',
      {
        title,
        status: 'published',
        values: { page_body: body, page_colour: ['#5b2b4c', '#2e4a78', '#4c6b3c', '#a8442b'][i] },
      },
      { created: created() },
    );
  const pageIds = new Map(
    (await select<{ id: number; title: string }>("SELECT id, title FROM records WHERE type_id = 'page'")).map(
      ({ id, title }) => [title, id],
    ),
  );
  for (const [position, { id, name, entries }] of menus.entries())
    await table('menus').create({
      id,
      name,
      position,
      version: 1,
      entries: entries.map((entry) =>
        'record' in entry
          ? { id: entry.id, leads: { to: 'record', recordId: pageIds.get(entry.record) }, below: [] }
          : { ...entry, below: [] },
      ),
    });
  await modelMoved();
  // Templates name rules that are kept; here they get their ids.
  const ids = new Map<string, string>();
  for (const rule of keptRules) ids.set(rule.name, (await saveRule(rule)).id);
  const named = (text: string) => text.replace(/"named":"([^"]+)"/g, (_, name: string) => `"named":"${ids.get(name)}"`);
  for (const { tree, ...template } of templates)
    await createTemplate({ ...template, tree: JSON.parse(named(JSON.stringify(tree))) as unknown });
  await release({ note: 'The site of the society' });
}

const CLOSING = [
  'Letters to the journal are read aloud at the long meeting.',
  'The society thanks whoever left the gloves.',
  'More of this when the pass is open.',
];

/** Months in which a way of this grade is at its best. */
const monthsFor = (grade: string): string[] =>
  ({ easy: MONTHS.slice(3, 11), moderate: MONTHS.slice(4, 10), hard: MONTHS.slice(5, 9), alpine: MONTHS.slice(6, 8) })[
    grade
  ] ?? [];

/** A long way in stages of a day from hut to hut, with waypoints; a short one has none. */
function stagesFor(length: number, ascent: number, huts: number[]): Record<string, unknown>[] {
  const days = Math.min(huts.length - 1, Math.ceil(length / 9));
  return Array.from({ length: Math.max(0, days) }, (_, i) => ({
    stage_day: i + 1,
    stage_from: [huts[i]],
    stage_to: [huts[i + 1]],
    stage_km: Number((length / days).toFixed(1)),
    stage_ascent: Math.round(ascent / days),
    stage_waypoints: [
      { waypoint_name: 'The spring', waypoint_what: 'Water, the last of it', waypoint_km: 1.5 },
      ...(i === 0 ? [{ waypoint_name: 'The cairn', waypoint_km: Number((length / days / 2).toFixed(1)) }] : []),
    ],
  }));
}

/** What is to be known for staying at a hut, awkward on purpose here and there. */
async function stayingIn(hut: world.HutData, i: number, today: number): Promise<Record<string, unknown>> {
  const year = Number(dayOf(today).slice(0, 4));
  const pictures = [3, 0, 5, 2, 11, 0, 4, 1, 2, 0, 3, 3, 0, 0][i] ?? 0;
  const gallery: number[] = [];
  const view = (n: number): [string, string] => [
    `hut-${i + 1}-${n + 1}.webp`,
    landscape(`hut ${i} view ${n}`, n % 2 === 0),
  ];
  for (let n = 0; n < pictures; n++) void paint(...view(n));
  for (let n = 0; n < pictures; n++) gallery.push(await draw(...view(n), `${hut.title}, view ${n + 1}`));
  const summer = {
    season_name: 'Summer',
    season_from: `${year}-06-01`,
    season_to: `${year}-09-30`,
    season_staffed: true,
    season_price: 28.5,
  };
  // This one spans the new year.
  const winter = {
    season_name: 'Winter room',
    season_from: `${year}-12-01`,
    season_to: `${year + 1}-03-31`,
    season_staffed: false,
    season_price: 0,
  };
  return {
    hut_gallery: gallery,
    hut_phone: i % 3 === 2 ? null : `+44 1632 9600${String(10 + i)}`,
    hut_seasons: hut.state === 'closed' ? [] : [summer, ...(hut.winter ? [winter] : [])],
    hut_rooms: roomsFor(hut.bunks ?? 0).map((room) => ({
      room_name: room.name,
      room_floor: room.floor,
      room_berths: room.berths.map(([berth_kind, berth_number, berth_price, berth_bedding]) => ({
        berth_kind,
        berth_number,
        berth_price,
        berth_bedding,
      })),
    })),
    hut_film: i % 5 === 1 ? { src: `/player/hut-${i + 1}`, title: `A day at ${hut.title}`.slice(0, 200) } : null,
    hut_icon: [
      'house',
      'mountain-snow',
      'tree-pine',
      'tent',
      'waves',
      'triangle-alert',
      'library',
      'book-open',
      'cloud-fog',
      'wheat',
    ][i],
    hut_place:
      i === 12
        ? null
        : {
            lat: Number((57.05 + i * 0.013).toFixed(4)),
            lon: Number((-4.9 + ((i * 7) % 11) * 0.021).toFixed(4)),
            label: `Above ${hut.title.slice(0, 40)}`,
          },
  };
}

/** One account of each role, and drafts of the author, one of which waits to be published. */
async function seedPeople(): Promise<void> {
  if (await isAnybodyThere()) return;
  for (const { name, email, role, mayPublish = false } of people) {
    const { id } = await createAccount({ name, email, role, mayPublish }, { password: PASSWORD });
    if (role !== 'author') continue;
    const own = await select<{ id: number; status: string }>(
      "SELECT id, status FROM records WHERE type_id = 'entry' ORDER BY id DESC LIMIT 6",
    );
    await noteCreator(
      'records',
      own.map((row) => row.id),
      id,
    );
    const draft = own.find(({ status }) => status === 'draft');
    if (draft) await proposeRecord(draft.id, new Date());
  }
}

/** Seeds once. A seeding that was cut short, which nobody can have built on yet, is cleared and begun again. */
async function seedOnce(): Promise<void> {
  await run('CREATE TABLE IF NOT EXISTS demo_world (state VARCHAR(10) PRIMARY KEY)', []);
  const [world] = await select<{ state: string }>('SELECT state FROM demo_world');
  if (world?.state === 'whole') return;
  if (!world && (await readModel()).types.length > 0) return;
  if (world) {
    await run('UPDATE sites SET release_id = NULL', []);
    await run('DELETE FROM releases', []);
    await run('UPDATE terms SET parent_id = NULL', []);
    for (const name of [
      'templates',
      'menus',
      'named_rules',
      'records',
      'record_counts',
      'authors',
      'media',
      'fields',
      'content_types',
      'taxonomies',
    ])
      await run(`DELETE FROM ${name}`, []);
    await run('UPDATE sites SET model_version = model_version + 1', []);
  }
  await run("REPLACE INTO demo_world VALUES ('begun')", []);
  await seed();
  await run("UPDATE demo_world SET state = 'whole'", []);
}

const server = enterServer();
try {
  const ran = await prepareDatabase();
  if (process.argv.includes('--demo')) {
    await seedOnce();
    await seedPeople();
  }
  if (ran.length) console.error(`Database: ${ran.join(', ')}`);
} finally {
  await server.close();
}
