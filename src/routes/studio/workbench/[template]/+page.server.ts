import { error } from '@sveltejs/kit';
import { Refusal } from '$lib/server/refusal';
import { readAllMedia } from '$lib/server/services/media';
import { plainModel } from '$lib/server/services/model';
import { workbenchRecords } from '$lib/server/services/lists';
import { readTemplate } from '$lib/server/services/templates';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params }) => {
  try {
    const [template, model, { records, partial }, media] = await Promise.all([
      readTemplate(params.template),
      plainModel(),
      workbenchRecords(),
      readAllMedia(),
    ]);
    return { template, model, records, partial, media };
  } catch (problem) {
    if (problem instanceof Refusal) error(problem.status, problem.title);
    throw problem;
  }
};
