import { newId } from '../../core/base/ids';
import { everyEntry, type Menu } from '../../core/schema/menu';
import type { ModelIndex } from '../../core/model/model-index';
import { problem, type Problem } from '../../core/base/result';
import { inTransaction } from '../database/connect';
import { notFound, Refusal } from '../base/refusal';
import { idsThere } from '../queries/records';
import { modelMoved } from '../queries/site';
import { readModel } from './model';
import { beginRemoval, sweep } from './removal';
import { readTemplates } from './templates';
import { countMenus, lockVersion, putMenu, updateMenu } from '../queries/design';

/** Entries that lead to what is not there. */
async function lost(menu: Menu, model: ModelIndex): Promise<Problem[]> {
  const entries = everyEntry(menu.entries);
  const ids = entries.flatMap(({ leads }) => (leads.to === 'record' ? [leads.recordId] : []));
  const known = await idsThere('records', ids);
  return entries.flatMap(({ id, leads }) => {
    const gone =
      (leads.to === 'record' && !known.has(leads.recordId) && 'record') ||
      (leads.to === 'type' && !model.type(leads.typeId) && 'content type') ||
      (leads.to === 'term' && !model.term(leads.termId) && 'term') ||
      (leads.to === 'author' && !model.author(leads.authorId) && 'author');
    return gone ? [problem(`entries.${id}`, `This leads to a ${gone} that is not there.`, 'Choose another one.')] : [];
  });
}

/** Keeps a menu: a new one without an id, else in the place of the one with it. With a stale `version` nothing is written. */
export async function saveMenu(input: Omit<Menu, 'id' | 'version'> & Partial<Menu>): Promise<Menu> {
  const fresh = input.id === undefined;
  const { id = newId('menu'), name, entries, version = 0 } = input;
  // In the order in which a menu is read, by which its ETag is made.
  const menu: Menu = { id, name, entries, version: fresh ? 0 : version };
  const gone = await lost(menu, await readModel());
  if (gone.length) throw new Refusal(422, 'The menu cannot be kept.', gone);
  return inTransaction(async (transaction) => {
    const storedVersion = await lockVersion('menus', menu.id, transaction);
    if (!fresh && storedVersion === undefined) throw notFound('menu with this id');
    const currentVersion = storedVersion ?? 0;
    if (currentVersion !== menu.version)
      throw new Refusal(
        409,
        'This menu has been changed elsewhere since it was opened here. Nothing was overwritten.',
        [],
        { version: currentVersion },
      );
    const saved = { ...menu, version: currentVersion + 1 };
    if (storedVersion === undefined) await putMenu({ ...saved, position: await countMenus(transaction) }, transaction);
    else await updateMenu(saved, transaction);
    await modelMoved(transaction);
    return saved;
  });
}

/** Deletes a menu that stands in no template. */
export async function deleteMenu(id: string): Promise<void> {
  const menu = (await readModel()).menu(id);
  if (!menu) throw notFound('menu with this id');
  const users = (await readTemplates()).filter(({ tree }) =>
    Object.values(tree.elements).some(({ kind, props }) => kind === 'menu' && props.menu === id),
  );
  if (users.length)
    throw new Refusal(
      409,
      `“${menu.name}” stands in ${users.map(({ name }) => `“${name}”`).join(', ')}. Take it out there first.`,
    );
  await inTransaction(async (transaction) => {
    const removal = await beginRemoval(`menu “${menu.name}”`, transaction);
    await sweep(removal, [{ table: 'menus', column: 'id', values: [id] }], transaction);
    await modelMoved(transaction);
  });
}
