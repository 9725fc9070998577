import { localDay } from '../../core/base/write';
import { makeEnv } from '../../core/paths/env';
import type { Purpose, Template } from '../../core/schema/template';
import type { Resolution, PageOf } from '../../core/serving/resolution';
import { batchPool, drawComplete } from '../queries/pool';
import type { Reads } from '../queries/reads';
import type { SiteDesign } from './design';

/** The contest for a page among the templates of a purpose. Rules that targets have are asked of whole records. */
export async function resolutionFor(
  design: SiteDesign,
  purpose: Purpose,
  page: PageOf,
  reads?: Reads,
): Promise<Resolution<Template>> {
  const list = design.contenders(purpose);
  const { model } = design;
  const batch = batchPool(model, { drafts: false });
  const pool = reads ? batch.readFor(reads) : batch.pool;
  const today = localDay(new Date(), model.site.timeZone);
  let contest!: Resolution<Template>;
  await drawComplete(batch, () => {
    contest = list.at(page, (record) => makeEnv({ model, pool, today, record }));
    return '';
  });
  return contest;
}

/** The template that answers a page; none where the built-in one does. */
export async function winner(
  design: SiteDesign,
  purpose: Purpose,
  page: PageOf,
  reads?: Reads,
): Promise<Template | undefined> {
  const { asksRulesOf, winner: first } = design.contenders(purpose);
  if ('record' in page && asksRulesOf.has(page.record.typeId))
    return (await resolutionFor(design, purpose, page, reads)).candidates[0]?.template;
  return first(page, () => {
    throw new Error('No rule is asked here.');
  });
}
