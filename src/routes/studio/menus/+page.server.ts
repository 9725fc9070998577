import { titlesOf } from '$lib/server/queries/records';
import { everyEntry } from '$lib/core/schema/menu';
import { plainModel } from '$lib/server/services/model';
import { readTemplates } from '$lib/server/services/templates';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [model, templates] = await Promise.all([plainModel(), readTemplates()]);
  const ids = model.menus.flatMap(({ entries }) =>
    everyEntry(entries).flatMap(({ leads }) => (leads.to === 'record' ? [leads.recordId] : [])),
  );
  const uses = Object.fromEntries(
    model.menus.map(({ id }) => [
      id,
      templates
        .filter(({ tree }) =>
          Object.values(tree.elements).some(({ kind, props }) => kind === 'menu' && props.menu === id),
        )
        .map(({ id: template, name }) => ({ id: template, name })),
    ]),
  );
  return { model, uses, titles: await titlesOf([...new Set(ids)]) };
};
