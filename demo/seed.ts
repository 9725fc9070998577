import sharp from 'sharp';
import { dayOf, dayNumber } from '../src/lib/core/formats/write';
import { closeDatabase, run, select } from '../src/lib/server/database/connect';
import { migrate } from '../src/lib/server/database/migrate';
import { addPicture } from '../src/lib/server/services/media';
import { readModel, saveContentType, saveSite, saveTaxonomy, saveTerm } from '../src/lib/server/services/model';
import { createRecord } from '../src/lib/server/services/records';
import { createTemplate } from '../src/lib/server/services/templates';
import { landscape, portrait } from './pictures';
import { hutArchive, hutPage, oldHutPage, trailArchive } from './templates';
import * as world from './world';

const draw = async (name: string, svg: string, alt: string): Promise<number> =>
  (await addPicture(name, await sharp(Buffer.from(svg)).webp({ quality: 88 }).toBuffer(), alt)).id;

/** Puts the demo world into an empty database, through the same services as the screens. */
async function seed(): Promise<void> {
  await saveSite(world.site);
  for (const taxonomy of world.taxonomies) await saveTaxonomy(taxonomy);
  for (const [i, [slug, name, parts]] of world.regions.entries()) {
    await saveTerm({ id: slug, taxonomyId: 'region', parentId: null, name, slug, position: i });
    for (const [j, [below, words]] of parts.entries())
      await saveTerm({ id: below, taxonomyId: 'region', parentId: slug, name: words, slug: below, position: j });
  }
  for (const type of world.types) await saveContentType(type);

  const today = dayNumber(new Date().toISOString().slice(0, 10));
  // Made one after the other, a day apart, so that "created" has an order of its own.
  let day = today - 400;
  const created = () => `${dayOf(day++)}T09:00:00Z`;

  const wardens: number[] = [];
  for (const [name, since, drawn, about] of world.wardens) {
    const picture = drawn ? await draw(`${name}.webp`, portrait(name), `${name}, drawn from the front`) : null;
    const record = await createRecord(
      'warden',
      {
        title: name,
        status: 'published',
        values: { warden_portrait: picture, warden_since: since, warden_about: about },
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
        terms: hut.region ? [hut.region] : [],
        values: {
          hut_picture: picture,
          hut_altitude: hut.altitude,
          hut_bunks: hut.bunks,
          hut_winter: hut.winter,
          hut_state: hut.state,
          hut_comfort: hut.comfort,
          hut_booking: hut.booking && { url: hut.booking },
          hut_description: hut.description,
          hut_access: hut.access,
          hut_warning: hut.warning ?? '',
          hut_opened: hut.opened,
          hut_layout: hut.layout,
          hut_warden: hut.warden === undefined ? [] : [wardens[hut.warden]],
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
        },
      },
      { created: created() },
    );
  }
  await createTemplate({ id: 'hut-page', name: 'Hut page', purpose: 'record', typeId: 'hut', tree: hutPage() });
  await createTemplate({ id: 'hut-list', name: 'All huts', purpose: 'archive', typeId: 'hut', tree: hutArchive() });
  await createTemplate({
    id: 'hut-page-old',
    name: 'Hut page, first try',
    purpose: 'record',
    typeId: 'hut',
    tree: oldHutPage(),
  });
  await createTemplate({
    id: 'trail-list',
    name: 'All trails',
    purpose: 'archive',
    typeId: 'trail',
    tree: trailArchive(),
  });
}

/** Seeds once. A seeding that was cut short, which nobody can have built on yet, is cleared and begun again. */
async function seedOnce(): Promise<void> {
  await run('CREATE TABLE IF NOT EXISTS demo_world (state VARCHAR(10) PRIMARY KEY)', []);
  const [world] = await select<{ state: string }>('SELECT state FROM demo_world');
  if (world?.state === 'whole') return;
  if (!world && (await readModel()).types.length > 0) return;
  if (world) {
    await run('UPDATE terms SET parent_id = NULL', []);
    for (const name of ['templates', 'records', 'media', 'fields', 'content_types', 'taxonomies'])
      await run(`DELETE FROM ${name}`, []);
    await run('UPDATE sites SET model_version = model_version + 1', []);
  }
  await run("REPLACE INTO demo_world VALUES ('begun')", []);
  await seed();
  await run("UPDATE demo_world SET state = 'whole'", []);
}

try {
  const ran = await migrate();
  if (process.argv.includes('--demo')) await seedOnce();
  if (ran.length) console.error(`Database: ${ran.join(', ')}`);
} finally {
  await closeDatabase();
}
