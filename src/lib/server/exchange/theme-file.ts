import { fieldsIn } from '../../core/model/settings';
import { modelMoved } from '../queries/site';
import { leadsOf } from '../../core/model/field';
import { newId } from '../../core/base/ids';
import type { ContentType, Term } from '../../core/schema/model';
import type { Field } from '../../core/model/model';
import type { ModelIndex } from '../../core/model/model-index';
import { type Problem } from '../../core/base/result';
import {
  fieldIds,
  parseThemeFile,
  sameUse,
  strayReads,
  suggestMapping,
  themeFile,
  withIds,
  type Choice,
  type Ids,
  type Mapping,
  type ThemeFile,
} from '../../core/releases/theme-file';
import { inTransaction } from '../database/connect';
import { putMenu, putNamedRule, putTheme } from '../queries/design';
import { putTemplate } from '../queries/templates';
import { Refusal } from '../base/refusal';
import { plainModel, readModel } from '../services/model';
import { draftDesign } from '../services/releases';
import { saveTaxonomy, saveTerm } from '../services/taxonomies';
import { readTemplates } from '../services/templates';
import { readTheme } from '../services/theme';
import { saveContentTypes } from '../services/types';
import { noteVersion } from '../services/versions';

/** The theme as it is designed now, as a file. */
export async function exportTheme(): Promise<ThemeFile> {
  const model = await readModel();
  const { design } = await draftDesign(model);
  return themeFile(await plainModel(), design, new Date().toISOString());
}

const read = (input: unknown): ThemeFile => {
  const parsed = parseThemeFile(input);
  if (!parsed.ok) throw new Refusal(422, 'The theme cannot be read.', parsed.problems);
  return parsed.value;
};

export interface ThemePlan {
  name: string;
  written: string;
  mapping: Mapping;
  types: { id: string; name: string; fields: { id: string; label: string; kind: string; rows: boolean }[] }[];
  taxonomies: { id: string; name: string; terms: number }[];
  /** `there` where the site has one of this id. */
  templates: { id: string; name: string; purpose: string; there: boolean }[];
  rules: { id: string; name: string; there: boolean }[];
  menus: { id: string; name: string; there: boolean }[];
  /** Whether its tokens are others than those of the site. */
  theme: boolean;
}

/** What a file holds, and what would be done with it if nobody said otherwise. Nothing is written. */
export async function planTheme(input: unknown): Promise<ThemePlan> {
  const file = read(input);
  const [model, templates, { theme }] = await Promise.all([readModel(), readTemplates(), readTheme()]);
  const there = new Set(templates.map(({ id }) => id));
  return {
    name: file.name,
    written: file.written,
    mapping: suggestMapping(file, model),
    types: file.model.types.map(({ id, name, fields }) => ({
      id,
      name,
      fields: fields.map((field) => ({
        id: field.id,
        label: field.label,
        kind: field.kind,
        rows: leadsOf(field) === 'entry',
      })),
    })),
    taxonomies: file.model.taxonomies.map(({ id, name }) => ({
      id,
      name,
      terms: file.model.terms.filter(({ taxonomyId }) => taxonomyId === id).length,
    })),
    templates: file.templates.map(({ id, name, purpose }) => ({ id, name, purpose, there: there.has(id) })),
    rules: file.rules.map(({ id, name }) => ({ id, name, there: Boolean(model.rule(id)) })),
    menus: file.menus.map(({ id, name }) => ({ id, name, there: Boolean(model.menu(id)) })),
    theme: JSON.stringify(theme) !== JSON.stringify(file.theme),
  };
}

export interface ThemeTaken {
  types: number;
  fields: number;
  terms: number;
  templates: number;
  replaced: number;
  rules: number;
  menus: number;
  theme: boolean;
  /** What was left out and is still read: templates with how many of their elements do. */
  loose: { name: string; elements: number }[];
}

/** Takes a theme in, as the mapping says. What is put aside of templates can be gone back to among their versions. */
export async function takeTheme(input: { file: unknown; mapping: Mapping }): Promise<ThemeTaken> {
  const file = read(input.file);
  const { mapping } = input;
  const model = await readModel();
  const problems = wrongChoices(file, mapping, model);
  if (problems.length) throw new Refusal(422, 'The theme cannot be taken in so.', problems);
  const ids = idsOf(file, mapping, model, await readTemplates());
  const taken: ThemeTaken = {
    types: 0,
    fields: 0,
    terms: 0,
    templates: 0,
    replaced: 0,
    rules: 0,
    menus: 0,
    theme: false,
    loose: [],
  };
  await takeModel(file, mapping, model, ids, taken);
  const now = await readModel();
  await inTransaction(async (transaction) => {
    const known = await readTemplates(transaction);
    const versionOf = new Map(known.map((template) => [template.id, template]));
    for (const rule of file.rules) {
      const id = ids.rules.get(rule.id);
      if (!id) continue;
      const own = withIds(rule, ids);
      await putNamedRule({ ...own, id, version: (now.rule(id)?.version ?? 0) + 1 }, transaction);
      taken.rules++;
    }
    for (const [i, menu] of file.menus.entries()) {
      const id = ids.menus.get(menu.id);
      if (!id) continue;
      const own = withIds(menu, ids);
      const version = (now.menu(id)?.version ?? 0) + 1;
      await putMenu({ ...own, id, position: now.menus.length + i, version }, transaction);
      taken.menus++;
    }
    const reads = new Set(now.types.flatMap(fieldIds));
    for (const [i, template] of file.templates.entries()) {
      const id = ids.templates.get(template.id);
      if (!id) continue;
      const before = versionOf.get(id);
      const own = withIds(template, ids);
      const version = (before?.version ?? 0) + 1;
      await putTemplate({ ...own, id, version, order: before?.order ?? known.length + i }, transaction);
      if (before) {
        taken.replaced++;
        await noteVersion(
          id,
          { version, tree: own.tree, edits: [`Took it from the theme “${file.name}”`], sitting: '' },
          { version: before.version, tree: before.tree },
          transaction,
        );
      } else taken.templates++;
      const elements = strayReads({ ...own, id }, reads);
      if (elements) taken.loose.push({ name: own.name, elements });
    }
    if (mapping.theme) {
      const { theme, version } = await readTheme(transaction);
      // Typefaces that were brought here stay; files of others are not in a theme's file, since licences often forbid it.
      const families = new Set(file.theme.typefaces.map(({ family }) => family));
      const typefaces = [...theme.typefaces.filter(({ family }) => !families.has(family)), ...file.theme.typefaces];
      await putTheme({ ...file.theme, typefaces }, version + 1, transaction);
      taken.theme = true;
    } else {
      // Looks that what was taken in has come along, where there are none of that name yet.
      const used = new Set(
        file.templates.flatMap(({ id, tree }) =>
          ids.templates.has(id) ? Object.values(tree.elements).flatMap(({ look }) => look ?? []) : [],
        ),
      );
      const { theme, version } = await readTheme(transaction);
      const looks = file.theme.looks.filter(
        ({ key }) => used.has(key) && !theme.looks.some((look) => look.key === key),
      );
      if (looks.length) await putTheme({ ...theme, looks: [...theme.looks, ...looks] }, version + 1, transaction);
    }
    await modelMoved(transaction);
  });
  return taken;
}

const asOf = (choice: Choice | undefined): string | undefined => (typeof choice === 'object' ? choice.as : undefined);

/** Choices that name what is not there, or what cannot stand for the other. */
function wrongChoices(file: ThemeFile, mapping: Mapping, model: ModelIndex): Problem[] {
  const problems: Problem[] = [];
  const add = (at: string, what: string, fix?: string) => problems.push({ at, what, ...(fix && { fix }) });
  for (const type of file.model.types) {
    const as = asOf(mapping.types[type.id]);
    const own = as === undefined ? undefined : model.type(as);
    if (as !== undefined && !own) add(`types.${type.id}`, 'There is no content type with this id.');
    for (const field of type.fields) {
      const to = asOf(mapping.fields[field.id]);
      if (to === undefined || mapping.types[type.id] === 'leave') continue;
      const known = own?.fields.find(({ id }) => id === to);
      if (!known) add(`fields.${field.id}`, `${own?.name ?? type.name} has no such field for “${field.label}”.`);
      else if (!sameUse(known, field))
        add(
          `fields.${field.id}`,
          `“${known.label}” cannot stand for “${field.label}”: one is ${known.kind}, the other ${field.kind}.`,
          'Choose another field, or make a new one.',
        );
    }
  }
  for (const taxonomy of file.model.taxonomies) {
    const as = asOf(mapping.taxonomies[taxonomy.id]);
    if (as !== undefined && !model.taxonomy(as)) add(`taxonomies.${taxonomy.id}`, 'There is no taxonomy with this id.');
  }
  return problems;
}

/** What every id of the file is on the site; new things keep theirs where it is free. */
function idsOf(file: ThemeFile, mapping: Mapping, model: ModelIndex, templates: readonly { id: string }[]): Ids {
  const ids: Ids = {
    types: new Map(),
    fields: new Map(),
    taxonomies: new Map(),
    terms: new Map(),
    templates: new Map(),
    rules: new Map(),
    menus: new Map(),
  };
  const place = (map: Map<string, string>, id: string, choice: Choice | undefined, taken: boolean, prefix: string) => {
    if (choice === 'leave' || choice === undefined) return;
    map.set(id, typeof choice === 'object' ? choice.as : taken ? newId(prefix) : id);
  };
  const usedFields = new Set(model.types.flatMap(fieldIds));
  for (const type of file.model.types) {
    const choice = mapping.types[type.id];
    place(ids.types, type.id, choice, Boolean(model.type(type.id)), 't');
    if (!ids.types.has(type.id)) continue;
    for (const field of type.fields) {
      place(ids.fields, field.id, mapping.fields[field.id] ?? 'new', usedFields.has(field.id), 'f');
      // Sub-fields go with their rows: by key where the rows are those of the site.
      if (leadsOf(field) !== 'entry' || !ids.fields.has(field.id)) continue;
      const own = model.field(ids.fields.get(field.id) ?? '')?.field;
      pairRows(field, own, ids, usedFields);
    }
  }
  for (const taxonomy of file.model.taxonomies)
    place(ids.taxonomies, taxonomy.id, mapping.taxonomies[taxonomy.id], Boolean(model.taxonomy(taxonomy.id)), 'tax');
  for (const term of file.model.terms) {
    const taxonomyId = ids.taxonomies.get(term.taxonomyId);
    if (!taxonomyId) continue;
    const own = model.terms.find(
      (one) => one.taxonomyId === taxonomyId && (one.id === term.id || one.slug === term.slug),
    );
    ids.terms.set(term.id, own?.id ?? (model.term(term.id) ? newId('term') : term.id));
  }
  const there = new Set(templates.map(({ id }) => id));
  for (const { id } of file.templates) place(ids.templates, id, mapping.templates[id], there.has(id), 'tpl');
  for (const { id } of file.rules) place(ids.rules, id, mapping.rules[id], Boolean(model.rule(id)), 'rule');
  for (const { id } of file.menus) place(ids.menus, id, mapping.menus[id], Boolean(model.menu(id)), 'menu');
  return ids;
}

function pairRows(field: Field, own: Field | undefined, ids: Ids, used: Set<string>): void {
  const theirs = fieldsIn(own?.settings);
  for (const sub of fieldsIn(field.settings)) {
    const match = theirs.find(({ id, key }) => id === sub.id || key === sub.key);
    ids.fields.set(sub.id, match?.id ?? (used.has(sub.id) ? newId('f') : sub.id));
    if (leadsOf(sub) === 'entry') pairRows(sub, match, ids, used);
  }
}

/** Types, fields, taxonomies and terms that are new. What is there keeps what it has. */
async function takeModel(
  file: ThemeFile,
  mapping: Mapping,
  model: ModelIndex,
  ids: Ids,
  taken: ThemeTaken,
): Promise<void> {
  for (const taxonomy of file.model.taxonomies)
    if (mapping.taxonomies[taxonomy.id] === 'new')
      await saveTaxonomy({ ...taxonomy, id: ids.taxonomies.get(taxonomy.id) ?? taxonomy.id });
  const known = new Set(model.terms.map(({ id }) => id));
  const depth = (term: { parentId: string | null }): number => {
    const parent = term.parentId ? file.model.terms.find(({ id }) => id === term.parentId) : undefined;
    return parent ? 1 + depth(parent) : 0;
  };
  for (const term of [...file.model.terms].sort((a, b) => depth(a) - depth(b))) {
    const id = ids.terms.get(term.id);
    const taxonomyId = ids.taxonomies.get(term.taxonomyId);
    if (!id || !taxonomyId || known.has(id)) continue;
    await saveTerm({
      ...term,
      id,
      taxonomyId,
      parentId: term.parentId && (ids.terms.get(term.parentId) ?? null),
    } as Term);
    taken.terms++;
  }
  const changed: ContentType[] = [];
  for (const type of file.model.types) {
    const id = ids.types.get(type.id);
    if (!id) continue;
    const own = model.type(id);
    const fresh = type.fields
      .filter((field) => mapping.fields[field.id] === 'new' || !own)
      .flatMap((field): Field[] => {
        const fieldId = ids.fields.get(field.id);
        return fieldId ? [{ ...withRowIds(withIds(field, ids), ids), id: fieldId }] : [];
      });
    if (own && !fresh.length) continue;
    const keys = new Set(own?.fields.map(({ key }) => key));
    const named = fresh.map((field) => ({ ...field, key: keys.has(field.key) ? `${field.key}_2` : field.key }));
    taken.fields += named.length;
    if (own) changed.push({ ...own, fields: [...own.fields, ...named] });
    else {
      taken.types++;
      changed.push({ ...withIds({ ...type, fields: [] }, ids), id, fields: named });
    }
  }
  if (changed.length) await saveContentTypes(changed);
}

/** Sub-fields of rows with the ids that they get. */
function withRowIds(field: Field, ids: Ids): Field {
  if (leadsOf(field) !== 'entry') return field;
  const fields = fieldsIn(field.settings).map((sub) => ({
    ...withRowIds(sub, ids),
    id: ids.fields.get(sub.id) ?? sub.id,
  }));
  return { ...field, settings: { ...field.settings, fields } };
}
