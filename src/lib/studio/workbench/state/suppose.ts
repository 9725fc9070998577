import { canSuppose, inventedRecord, INVENTED_ID } from '$lib/core/content/suppose';
import { envOf, ofArchives, ofRecords, ofIterations, type Subject } from '$lib/core/coverage/subjects';
import { wantedFor, wantedInIteration, wantedWords } from '$lib/core/coverage/witnesses';
import { memoryPool } from '$lib/core/loops/memory-pool';
import { supposing, type Supposed } from '$lib/core/content/suppose';
import { kindOf, parseValue, plainField } from '$lib/core/model/field';
import type { ModelIndex } from '$lib/core/model/model-index';
import type { Field } from '$lib/core/model/model';
import { compileRecord } from '$lib/core/paths/compile';
import type { Scopes } from '$lib/core/paths/scopes';
import { Trace } from '$lib/core/paths/trace';
import { IN_PART } from '$lib/core/render/compile';
import { compileRule } from '$lib/core/rules/compile';
import { asWords } from '$lib/core/rules/explain';
import { witnessFor, type Among, type Wanted } from '$lib/core/rules/witness';
import type { Path } from '$lib/core/schema/path';
import type { ContentRecord } from '$lib/core/schema/record';
import { typesServed } from '$lib/core/templates/served';
import { isWithin } from '$lib/core/templates/tree';
import type { Workbench } from './workbench.svelte';

/** A value of a record on screen that can be changed there or supposed otherwise, with the field that it is given in. */
export interface Changeable {
  record: ContentRecord;
  step: string;
  field: Field;
  value: unknown;
  /** Whether it can be written into the record too: of fields and the title, where the record is one that is kept. */
  kept: boolean;
}

/** How the value of a step is given: a field of the model, or what stands for terms, title and day of publishing. */
function fieldOf(step: string, index: ModelIndex): Field | undefined {
  if (step === '@title') return { ...plainField(step, 'Title', 'text'), required: true };
  if (step === '@published') return plainField(step, 'Published', 'datetime');
  if (step.startsWith('@terms:')) {
    const taxonomy = index.taxonomy(step.slice('@terms:'.length));
    const options = taxonomy ? index.termsOf(taxonomy.id).map(({ id, name }) => ({ key: id, label: name })) : [];
    return taxonomy && options.length ? plainField(step, taxonomy.name, 'choices', { options }) : undefined;
  }
  return index.field(step)?.field;
}

function valueOf(record: ContentRecord, step: string, index: ModelIndex): unknown {
  if (step === '@title') return record.title;
  if (step === '@published') return record.published ?? undefined;
  if (step.startsWith('@terms:')) {
    const taxonomyId = step.slice('@terms:'.length);
    return record.terms.filter((id) => index.term(id)?.taxonomyId === taxonomyId);
  }
  return record.values[step];
}

/**
 * The value that a path ends in for what is on screen; undefined where it is none of a record, or of no one record. What
 * stands in a row is given with all rows of its field.
 */
export function changeable(wb: Workbench, path: Path, scopes: Scopes): Changeable | undefined {
  return ownChangeable(wb, path, scopes) ?? changeableAround(wb, path);
}

/** The value that holds what a loop goes over. */
function changeableAround(wb: Workbench, { from }: Path): Changeable | undefined {
  const made = from.startsWith('loop:') ? wb.compiled.elements.get(from.slice('loop:'.length)) : undefined;
  const source = made?.loop?.source;
  return made && source?.from === 'values' ? changeable(wb, source.path, made.scopes) : undefined;
}

function ownChangeable(wb: Workbench, path: Path, scopes: Scopes): Changeable | undefined {
  const step = path.steps.at(-1);
  if (step === undefined || path.from === 'site' || path.from === 'archive' || !canSuppose(step, wb.index))
    return undefined;
  const field = fieldOf(step, wb.index);
  const owner = wb.index.field(step)?.type.id;
  const typeIds = owner === undefined ? wb.model.types.map((type) => type.id) : [owner];
  const made = compileRecord({ from: path.from, steps: path.steps.slice(0, -1) }, typeIds, scopes, wb.index);
  const record = made.ok ? made.value(wb.preview.envAt(scopes)) : undefined;
  if (!field || !record) return undefined;
  const kept = record.id !== INVENTED_ID && (owner !== undefined || step === '@title');
  return { record, step, field, value: valueOf(record, step, wb.index), kept };
}

/** Supposes a value; told what is wrong where its field would refuse it, and then nothing changes. */
export function suppose(wb: Workbench, { record, step, field }: Changeable, value: unknown): string | undefined {
  const parsed = parseValue(field, value ?? null, field.id);
  if (!parsed.ok) return parsed.problems[0]?.what ?? 'This value cannot be supposed.';
  if (step === '@title' && !parsed.value) return 'A record has a title.';
  wb.preview.suppose(record.id, step, parsed.value);
  return undefined;
}

/** What is supposed, in words, for the band that says so. */
export interface SupposedWords {
  recordId: number;
  step: string;
  label: string;
  words: string;
  /** The record, where it is not the one on screen. */
  of: string;
}

export function supposedWords(wb: Workbench): SupposedWords[] {
  const env = wb.preview.freshEnv();
  return [...wb.preview.supposed].flatMap(([recordId, values]) =>
    Object.entries(values).flatMap(([step, value]) => {
      const field = fieldOf(step, wb.index);
      const known = field && kindOf(field);
      if (!field || !known) return [];
      const { kind, settings, many } = known;
      const type = { kind, settings, many, label: field.label, typeIds: [] };
      const words = asWords(value, type, env);
      const of = recordId === wb.preview.record?.id ? '' : (wb.records.find(({ id }) => id === recordId)?.title ?? '');
      return [{ recordId, step, label: field.label, words: words === 'nothing' ? 'empty' : words, of }];
    }),
  );
}

/** What witnesses of a template are looked for among: the records that it is looked at with. */
export const amongAll = (wb: Workbench): Among => ({
  model: wb.index,
  records: wb.preview.everyone,
  typeIds: typesServed(wb.template, wb.index),
  pool: wb.preview.ruleEnv.pool,
  media: wb.media,
  today: wb.preview.ruleEnv.today,
});

/** Whether an element is on a page, with values supposed; asked by drawing the page. */
function draws(wb: Workbench, id: string, page: Subject, supposed: Supposed): boolean {
  const asItIs = !supposed.size && page.record?.id !== INVENTED_ID;
  const records = asItIs ? wb.records : supposing(wb.records, supposed, wb.index, page.record);
  const pool = asItIs ? wb.preview.ruleEnv.pool : memoryPool(records, wb.media, false);
  const record = page.record && records.find((one) => one.id === page.record?.id);
  const trace = new Trace();
  wb.plain.draw(envOf({ ...page, record }, { model: wb.index, pool, today: wb.preview.ruleEnv.today }, { trace }));
  return trace.drawn().has(id);
}

const pageOf = (record: ContentRecord): Subject => ({ id: record.id, title: record.title, record });

/** More turns than these, and more pages of archives, are not looked through for one. */
const MOST_LOOKED = 2000;
/** A made-up turn is tried on so many pages. */
const MOST_TRIED = 20;

/** The pages that it is looked at with. */
function pagesLookedAt(wb: Workbench): Subject[] {
  if (wb.template.purpose !== 'archive') return ofRecords(wb.preview.everyone);
  return finished(ofArchives(wb.preview.archives, wb.plain, wb.preview.ruleEnv, MOST_LOOKED));
}

function finished<T>(steps: Generator<unknown, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}

/**
 * Puts a page on screen in one of whose turns an element is, or would be with the fewest values of the record of a turn
 * supposed. Gives what was done, or why there is none.
 */
function showTurn(wb: Workbench, id: string): string {
  const name = wb.titleOf(id);
  const asked = wantedInIteration(wb.tree, wb.plain.elements, id, wb.index);
  if (asked === 'broken') return `A rule of ${name}, or of what it stands in, is not finished or cannot be read.`;
  if (asked === 'rows')
    return `${name} stands in a loop over values, and none of these is made up. Suppose them on the shelf.`;
  if (asked === 'around')
    return `A rule of ${name} asks for what stands around its turn, too; whether there can be one cannot be told.`;
  const { loop, typeIds, wanted } = asked;
  const pages = pagesLookedAt(wb);
  const turns = finished(ofIterations(loop, wb.plain, pages, wb.preview.ruleEnv, MOST_LOOKED));
  const show = (turn: Subject, record: ContentRecord, supposed: Supposed) => {
    wb.preview.letGo();
    wb.lookAt({ ...turn, recordId: turn.record?.id }, loop);
    wb.preview.supposed = supposed;
    wb.selection.select(id);
    return `${record.title}, on the page of ${turn.record?.title ?? turn.title.split(' › ')[0]}`;
  };
  const ownOf = (turn: Subject) => turn.turns?.at(-1)?.record;
  const records = [...new Map(turns.flatMap((turn) => ownOf(turn) ?? []).map((one) => [one.id, one])).values()];
  if (!records.length) return `No page has a turn of ${wb.titleOf(loop)}, so that none can be shown with ${name}.`;
  const given = { ...amongAll(wb), records, typeIds };
  let unfilled = false;
  for (const more of [[], ...fillings(wb, id, loop).map((one) => [one])]) {
    const found = witnessFor([...wanted, ...more], given);
    if (found.is === 'never' && !more.length) return never(wb, found.because);
    if (found.is !== 'there' && found.is !== 'made') continue;
    const supposed: Supposed = found.is === 'made' ? found.supposed : new Map();
    const at = turns.filter((turn) => ownOf(turn)?.id === found.record.id).slice(0, MOST_TRIED);
    const turn = at.find((one) => draws(wb, id, { ...one, turns: undefined }, supposed));
    if (turn && !supposed.size) return `${name} is in the turn of ${show(turn, found.record, supposed)}.`;
    if (turn)
      return `No turn is like that. The nearest is that of ${show(turn, found.record, supposed)}, with what is supposed above.`;
    unfilled = true;
  }
  return unfilled ? nothingFills(name) : UNKNOWN;
}

const nothingFills = (name: string) => `Its rules can hold, but nothing that could be filled makes ${name} appear.`;
const UNKNOWN = 'Whether there can be one cannot be told: what is compared here is not known well enough.';
const never = (wb: Workbench, because: readonly Wanted[]): string =>
  `There can be none: ${list(because.map((one) => wantedWords(one, wb.preview.ruleEnv)))} ${because.length > 1 ? 'contradict each other' : 'can never be so'}.`;

/** Values that an element, or what stands in it, shows: one of them has to be filled for it to be there. Of a turn, its own. */
function fillings(wb: Workbench, id: string, loop?: string): Wanted[] {
  const from = loop === undefined ? 'record' : `loop:${loop}`;
  const typeIds = wb.compiledOf(loop ?? '')?.loop?.scope.typeIds;
  return wb.uses.flatMap((use) => {
    const own = use.elementId === id || isWithin(wb.tree, use.elementId, id);
    if (!own || use.via === 'rule' || use.via === 'repeats' || use.path.from !== from) return [];
    const scopes = typeIds ? { recordTypeIds: typeIds, loops: [] } : wb.scopesAt(use.elementId);
    const rule = compileRule({ test: 'filled', path: { ...use.path, from: 'record' } }, scopes, wb.index);
    return rule.problems.length ? [] : [{ rule, holds: true }];
  });
}

/**
 * Puts a record on screen on whose page an element is: one that is there, or else the nearest with values supposed. Gives
 * what was done, or why there is none.
 */
export function showOne(wb: Workbench, id: string): string {
  const name = wb.titleOf(id);
  if (id.includes(IN_PART)) return `${name} stands in a part. Open the part, and look for a record there.`;
  const wanted = wantedFor(wb.tree, wb.compiled.elements, id);
  if (wanted === 'turns') return showTurn(wb, id);
  if (wanted === 'broken') return `A rule of ${name}, or of what it stands in, is not finished or cannot be read.`;
  // Where every page was counted, it is known that none has it.
  const none = wb.survey.totalOf(id)?.shown === 0;
  const drawn = none ? undefined : wb.preview.everyone.find((record) => draws(wb, id, pageOf(record), new Map()));
  if (drawn) {
    wb.preview.letGo();
    wb.preview.put(drawn.id);
    return `${name} is on the page of ${drawn.title}.`;
  }
  const given = amongAll(wb);
  let unfilled = false;
  for (const more of [[], ...fillings(wb, id).map((one) => [one])]) {
    // A record for which rules hold is there, but there is nothing in the element: then it has to be made with that filled.
    const found = witnessFor([...wanted, ...more], given);
    if (found.is === 'never' && !more.length) return never(wb, found.because);
    if (found.is !== 'there' && found.is !== 'made') continue;
    const supposed: Supposed = found.is === 'made' ? found.supposed : new Map();
    if (!draws(wb, id, pageOf(found.record), supposed)) {
      unfilled = true;
      continue;
    }
    put(wb, found.record, supposed);
    return found.record.id === INVENTED_ID
      ? `No record is like that. This one is made up.`
      : `No record is like that. The nearest is ${found.record.title}, with ${supposed.size ? 'what is supposed above' : 'nothing supposed'}.`;
  }
  return unfilled ? nothingFills(name) : UNKNOWN;
}

const list = (words: string[]) => new Intl.ListFormat('en').format(words);

/** Puts a witness on screen. */
export function put(wb: Workbench, record: ContentRecord, supposed: Supposed): void {
  wb.preview.letGo();
  if (record.id === INVENTED_ID) wb.preview.made = inventedRecord(record.typeId, wb.index);
  else wb.preview.put(record.id);
  wb.preview.supposed = supposed;
  wb.view = 'page';
}
