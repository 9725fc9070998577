import { localDay } from '../../core/base/write';
import { addressOf } from '../../core/addresses/addresses';
import { addressOfArchive } from '../../core/addresses/archives';
import { questionOf } from '../../core/loops/visitors';
import { roleOfField } from '../../core/model/field';
import type { ModelIndex } from '../../core/model/model-index';
import { firstWords } from '../../core/render/first-words';
import { compilePath } from '../../core/paths/compile';
import { makeEnv, type Env } from '../../core/paths/env';
import { scriptJson, structuredOf } from '../../core/render/structured';
import type { ContentRecord } from '../../core/schema/record';
import { recordTree } from '../../core/templates/start';
import { readAside } from '../database/replicas';
import { currentCache } from '../queries/read-cache';
import { loadRecords } from '../queries/load';
import { batchPool, drawComplete } from '../queries/pool';
import type { Reads } from '../queries/reads';
import { recordsAtSlugs } from '../queries/records';
import { winner } from './resolutions';
import { drawTemplate, type Question } from './draw';
import { pageMoved, recordMoved } from './moved';
import { moved, pictureOf, type PageAnswer, type Visit } from './visit';

/** The page of a record, or where it is now. */
export async function answerRecord(
  { design, model, origin, still, batch, known, reads, page, missing, inspection }: Visit,
  path: string,
  { typeId, slug, former }: { typeId: string; slug: string; former?: true },
  asked: Question,
): Promise<PageAnswer> {
  const type = model.type(typeId);
  const record = known?.get(`${typeId} ${slug}`) ?? (await recordAt(typeId, slug, model));
  if (!record || !type) {
    const to = (await recordMoved(typeId, slug, model)) ?? (await pageMoved(path, model));
    if (to) return moved(to + (to.includes('?') ? '' : questionOf(asked)));
    // A year without its slash, where no record is called so.
    const year = /^\/([^/]+)\/(\d{4})$/.exec(path);
    if (year && year[1] === type?.base)
      return moved(addressOfArchive({ of: 'date', typeId, year: Number(year[2]) }, model) + questionOf(asked));
    return missing();
  }
  reads.record(record.id);
  const address = addressOf(record, model);
  // The same record under another address: as it was before, or with other terms or another day.
  if (former || address !== path.split('/').map(encodeURIComponent).join('/'))
    return moved(address + questionOf(asked));
  const template = await winner(design, 'record', { record }, reads);
  const frame = await winner(design, 'frame', { record }, reads);
  const { html, env, hears } = await drawTemplate(design, template, {
    tree: () => recordTree(type, model),
    record,
    asked,
    address,
    still,
    batch,
    reads,
    frame,
    inspect: inspection,
  });
  if (env.pastEnd) return missing();
  return {
    status: 200,
    hears,
    ...(await page({
      title: record.title,
      of: { record },
      frame,
      description: excerptOf(record, model, env) ?? firstWords(html, { facts: true }),
      kind: 'article',
      picture: await pictureOf(
        type.fields
          .map((field) => (roleOfField(field) === 'picture' ? record.values[field.id] : undefined))
          .find(Boolean) as number | undefined,
        env,
      ),
      structured: await jsonLdOf(record, model, origin, reads, batch),
      main: html,
      path: address + questionOf(env.asked ?? {}),
      address,
      current: typeId,
      colours: env.colours,
    })),
  };
}

async function recordAt(typeId: string, slug: string, model: ModelIndex): Promise<ContentRecord | undefined> {
  const cache = await currentCache();
  const key = `record at ${typeId} ${slug}`;
  const known = cache.get(key) as number | undefined;
  const id = known ?? (await recordsAtSlugs(typeId, [slug]))[0]?.id;
  if (id === undefined) return undefined;
  if (known === undefined) cache.put(key, id);
  const loaded = cache.records(model, undefined);
  if (loaded.has(id)) return loaded.get(id);
  const [record] = await readAside(cache.version, () => loadRecords(model, [id], { drafts: false }));
  loaded.put(id, record);
  return record;
}

/** A record as JSON-LD, with whatever it names; undefined where its type is not told to programs. */
async function jsonLdOf(
  record: ContentRecord,
  model: ModelIndex,
  origin: string,
  reads: Reads,
  batch = batchPool(model, { drafts: false }),
): Promise<string | undefined> {
  if (!model.type(record.typeId)?.structured) return undefined;
  const today = localDay(new Date(), model.site.timeZone);
  return drawComplete(batch, () =>
    scriptJson(structuredOf(record, makeEnv({ model, pool: batch.readFor(reads), today, record }), origin)),
  );
}

/** What is said of a record's page: the beginning of its first running text. */
function excerptOf(record: ContentRecord, model: ModelIndex, env: Env): string | undefined {
  const path = compilePath(
    { from: 'record', steps: ['@excerpt'] },
    { recordTypeIds: [record.typeId], loops: [] },
    model,
  );
  const text = path.ok ? path.value.read({ ...env, record }) : undefined;
  return typeof text === 'string' ? text.slice(0, 300).trim() || undefined : undefined;
}
