import { error } from '@sveltejs/kit';
import { holdersOf } from '$lib/core/coverage/places';
import { Refusal } from '$lib/server/base/refusal';
import { readAllMedia } from '$lib/server/services/media';
import { plainModel } from '$lib/server/services/model';
import { workbenchRecords } from '$lib/server/services/lists';
import { readParts, readTemplate, readTemplateHeads, readTemplates } from '$lib/server/services/templates';
import { readTheme } from '$lib/server/services/theme';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params }) => {
  try {
    const [template, model, { records, partial }, media, parts, templates, { theme }, all] = await Promise.all([
      readTemplate(params.template),
      plainModel(),
      workbenchRecords(),
      readAllMedia(),
      readParts(),
      readTemplateHeads(),
      readTheme(),
      readTemplates(),
    ]);
    const titled = all.some(
      ({ purpose, tree }) =>
        purpose === 'frame' &&
        Object.values(tree.elements).some(({ kind, props }) => kind === 'heading' && Number(props.level) === 1),
    );
    const holders = template.purpose === 'part' ? holdersOf(template.id, all) : [];
    return { template, model, records, partial, media, parts, templates, holders, theme, titled };
  } catch (problem) {
    if (problem instanceof Refusal) error(problem.status, problem.title);
    throw problem;
  }
};
