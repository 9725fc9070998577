import { z } from 'zod';
import type { ArchivePlace } from '../../core/addresses/archives';
import { localDay } from '../../core/base/write';
import { tellList } from '../../core/loops/evaluate';
import { keyOfList, reporting, type LoopReport } from '../../core/loops/loop-report';
import { enterIterations } from '../../core/loops/iterations';
import { makeEnv, ITERATIONS_ON_CANVAS, type Env } from '../../core/paths/env';
import { compileTree, scopesOf } from '../../core/render/compile';
import { Id } from '../../core/schema/element';
import { TemplateSchema } from '../../core/schema/template';
import { loadRecords } from '../queries/load';
import { batchPool, drawComplete } from '../queries/pool';
import { readModel } from '../services/model';
import { partsAmong, readTemplates } from '../services/templates';

const Place = z.object({
  of: z.enum(['type', 'term', 'author', 'date', 'search', 'front', 'missing']),
  page: z.number().int().min(1).max(1_000_000_000),
  typeId: z.string().max(80).optional(),
  termId: z.string().max(80).optional(),
  authorId: z.number().int().optional(),
  year: z.number().int().optional(),
  month: z.number().int().min(1).max(12).optional(),
  words: z.string().max(500).optional(),
});

/** The page on a canvas: a template as it is there, which may not be kept yet, and what it is looked at with. */
export const CanvasQuerySchema = z.object({
  template: TemplateSchema,
  record: z.number().int().positive().optional(),
  archive: Place.optional(),
  /** Elements that are held open. */
  held: z.array(z.string().max(400)).max(2000).default([]),
  /** The loop whose story is asked for, by its element, with the turns that are looked at by loop. */
  story: z.object({ loop: z.string().max(400), turns: z.record(Id, z.number().int().min(0)).default({}) }).optional(),
});

/** What the lists of a page on a canvas yield as the site has them, over all records that visitors see. Refused where the page cannot be read. */
export async function listsOfCanvas(input: z.output<typeof CanvasQuerySchema>): Promise<LoopReport> {
  const { template, record: recordId, archive, held, story } = input;
  const [model, others] = await Promise.all([readModel(), readTemplates()]);
  const parts = partsAmong([...others.filter(({ id }) => id !== template.id), template]);
  const compiled = compileTree(template.tree, scopesOf(template, model), model, {
    studio: true,
    parts,
    id: template.id,
  });
  // The record on screen may be a draft; what it leads to is as visitors see it.
  const [record] = recordId === undefined ? [] : await loadRecords(model, [recordId], { drafts: true });
  const batch = batchPool(model, { drafts: false });
  const today = localDay(new Date(), model.site.timeZone);
  let report!: LoopReport;
  await drawComplete(batch, () => {
    const reporter = reporting(batch.pool);
    report = reporter.report;
    const env = (): Env => ({
      ...makeEnv({
        model,
        pool: reporter.pool,
        today,
        turnsLeft: ITERATIONS_ON_CANVAS,
        ...(template.purpose === 'archive' ? { archive: archive as ArchivePlace | undefined } : { record }),
      }),
      ...(held.length && { held: new Set(held) }),
    });
    compiled.draw(env());
    const made = story && compiled.elements.get(story.loop);
    if (story && made?.loop) {
      // Asked of the pool itself: what is counted on the way is on no list of the page.
      const at = { ...env(), pool: batch.pool };
      enterIterations(at, made.scopes, (id) => compiled.elements.get(id)?.loop, story.turns);
      const { tests, ...counts } = tellList(made.loop, at);
      report.stories.push({ key: keyOfList(made.loop, at), ...counts, removed: tests.map(({ removed }) => removed) });
    }
    return '';
  });
  return report;
}
