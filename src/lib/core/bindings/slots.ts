import type { SlotShape } from '../model/family';
import { SLOT_SHAPES } from '../model/shapes';
import { formatNamed } from '../formats';
import { writeList } from '../base/write';
import type { Format, FormatContext } from '../formats/format';
import { paragraphs } from '../model/kinds/long-text';
import { otherLanguage } from '../model/kinds/language';
import type { ModelIndex } from '../model/model-index';
import { compilePath } from '../paths/compile';
import type { Env } from '../paths/env';
import type { Path } from '../schema/path';
import type { Scopes, ValueType } from '../paths/scopes';
import { fail, ok, problem, type Problem, type Result } from '../base/result';
import type { Binding, FormatUse, Run, SlotValue, Take } from '../schema/binding';
import { takeOf, takesFor, typeAfter } from '../paths/takes';
import { directionOf, otherDirection } from '../base/direction';
import { escapeHtml, safeUrl } from '../base/text';
import { writeValue } from '../formats/write-value';

export type { SlotShape };

/** Why a value of this type cannot go into a slot of this shape; undefined where it fits. */
export function misfit(type: ValueType, shape: SlotShape, take?: Take): Problem | undefined {
  const after = typeAfter(type, take);
  const { needs, several } = SLOT_SHAPES[shape];
  if (!after.kind.family.slots.includes(shape))
    return problem(
      'path',
      `${type.label} is ${after.kind.label.toLowerCase()}; this takes ${needs}.`,
      `Choose ${needs}.`,
    );
  if (after.many && !several)
    return problem('take', `${type.label} has several values; this takes one.`, 'Use the first, or repeat over them.');
  if (take && !takesFor(type).includes(take))
    return problem('take', `${type.label} cannot be taken that way.`, 'Choose another way to make one value of many.');
  return undefined;
}

/** How a binding starts out when a value of this type is put into a slot of this shape. */
export function startingTake(type: ValueType, shape: SlotShape): Take | undefined {
  if (!type.many) return undefined;
  if (!SLOT_SHAPES[shape].several) return type.kind.family.slots.includes(shape) ? 'first' : 'count';
  return shape === 'inline' || shape === 'blocks' ? 'listed' : undefined;
}

/** Shapes that write a value as words, so that formats and words around it apply. */
export const isWritten = (shape: SlotShape): boolean => shape === 'inline' || shape === 'blocks' || shape === 'list';

/** What a slot came to: the value, and how values like it are known and written. */
export interface SlotContent {
  value: unknown;
  type: ValueType;
  /** The text of one value, or of the whole; not escaped. */
  write(value: unknown, env: Env): string;
}

/** A slot made ready. Each reader gives '' or undefined where there is nothing to show. */
export interface CompiledSlot {
  bound: boolean;
  problems: Problem[];
  /** Escaped text, or markup of a sentence. */
  inline(env: Env): string;
  /** HTML blocks; `attributes` go to the outermost element. */
  blocks(env: Env, attributes?: string): string;
  url(env: Env): string;
  picture(env: Env): number | undefined;
  /** The first value that is not empty, with its type, for the shapes that are no words. */
  found(env: Env): SlotContent | undefined;
}

interface Source extends Omit<SlotContent, 'value'> {
  read(env: Env): unknown;
  /** As written, but one of several values. */
  writeOne(value: unknown, env: Env): string;
  plain: boolean;
}

type Write = (value: unknown, env: Env) => string;

/** A chain of formats over a type, as functions from value to text; formats that do not fit are left out and told. */
export function compileFormats(
  uses: FormatUse[],
  type: ValueType,
  scopes: Scopes,
  model: ModelIndex,
): { write: Write; writeOne: Write; problems: Problem[]; applied: number } {
  const problems: Problem[] = [];
  const single: ValueType = type.many ? { ...type, many: false } : type;
  let one: Write | undefined;
  let all: ((texts: string[], env: Env) => string) | undefined;
  let after: Write | undefined;
  let applied = 0;
  for (const [i, use] of uses.entries()) {
    const wrong = (what: string, fix?: string) => problems.push(problem(`formats.${i}`, what, fix));
    const format = formatNamed(use.format);
    if (!format) {
      wrong(`There is no format named “${use.format}”.`);
      continue;
    }
    const options = format.options.safeParse(use.options);
    if (!options.success) {
      wrong(options.error.issues[0]?.message ?? 'The format cannot be set so.');
      continue;
    }
    const path = format.path?.(options.data);
    const other = path ? compilePath(path, scopes, model) : undefined;
    if (other && !other.ok) {
      wrong(
        `The other value of “${format.label}” cannot be reached: ${other.problems[0]?.what ?? ''}`,
        'Choose another value.',
      );
      continue;
    }
    const run = runFormat(format, options.data, type, other?.ok ? other.value.read : undefined);
    if (format.ofLists) {
      if (!type.many || all) wrong(`The format “${format.label}” is for several values.`, 'Take the format away.');
      else {
        all = run as unknown as typeof all;
        applied++;
      }
      continue;
    }
    const ofText = format.writes === 'text';
    const raw = !one && !all && !ofText && type.kind.family.formats.some((one) => one === format.writes);
    if (!raw && !ofText) {
      wrong(`The format “${format.label}” does not fit ${type.label}.`, 'Take the format away.');
      continue;
    }
    applied++;
    if (all) {
      const before = after;
      after = before ? (value, env) => run(before(value, env), env) : run;
    } else {
      const before = one;
      one = before
        ? (value, env) => run(before(value, env), env)
        : raw
          ? run
          : (value, env) => run(writeValue(value, single, env), env);
    }
  }
  const writer = one ? undefined : type.kind.writer?.(type.settings, model.site);
  const writeOne: Write = one ?? writer ?? ((value, env) => writeValue(value, single, env));
  if (!type.many) return { write: writeOne, writeOne, problems, applied };
  const join =
    all ?? ((texts: string[]) => (texts.length > 1 ? writeList(texts, model.site.locale) : (texts[0] ?? '')));
  const end = after;
  const write: Write = (value, env) => {
    const texts = (value as unknown[]).map((v) => writeOne(v, env)).filter(Boolean);
    const joined = texts.length ? join(texts, env) : '';
    return end && joined ? end(joined, env) : joined;
  };
  return { write, writeOne, problems, applied };
}

function runFormat(format: Format, options: unknown, type: ValueType, other?: (env: Env) => unknown): Write {
  const settings = (type.settings ?? {}) as Record<string, unknown>;
  let kept: FormatContext | undefined;
  return (value, env) => {
    if (other)
      return format.write(value, options, {
        site: env.model.site,
        settings,
        today: env.today,
        other: firstOf(other(env)),
      });
    if (kept?.site !== env.model.site || kept.today !== env.today)
      kept = { site: env.model.site, settings, today: env.today };
    return format.write(value, options, kept);
  };
}

const firstOf = (value: unknown): unknown => (Array.isArray(value) ? (value as unknown[])[0] : value);

function compileSource(
  { path, take }: { path: Path; take?: Take },
  formats: FormatUse[],
  shape: SlotShape,
  scopes: Scopes,
  model: ModelIndex,
): Result<Source & { problems: Problem[] }> {
  const made = compilePath(path, scopes, model);
  if (!made.ok) return made;
  const { type, read } = made.value;
  const wrong = misfit(type, shape, take);
  if (wrong) return fail(wrong);
  const after = typeAfter(type, take);
  const { write, writeOne, problems, applied } = compileFormats(formats, after, scopes, model);
  const value =
    type.many && take
      ? (env: Env) => nonEmpty(takeOf(read(env) as unknown[], take, type))
      : type.many
        ? (env: Env) => nonEmpty(read(env))
        : read;
  return ok({ type: after, read: value, write, writeOne, plain: applied === 0, problems });
}

const nonEmpty = (value: unknown): unknown => (Array.isArray(value) && value.length === 0 ? undefined : value);

const NO_BOXES: ReadonlySet<string> = new Set();

const NOTHING: CompiledSlot = {
  bound: false,
  problems: [],
  inline: () => '',
  blocks: () => '',
  url: () => '',
  picture: () => undefined,
  found: () => undefined,
};

export function compileSlot(
  slot: SlotValue | undefined,
  shape: SlotShape,
  scopes: Scopes,
  model: ModelIndex,
  boxes: ReadonlySet<string> = NO_BOXES,
): CompiledSlot {
  if (!slot) return NOTHING;
  if ('fixed' in slot) return fixedSlot(slot.fixed, shape);
  return 'bound' in slot ? boundSlot(slot.bound, shape, scopes, model, boxes) : wordsSlot(slot.words, scopes, model);
}

function fixedSlot(fixed: string | number | number[], shape: SlotShape): CompiledSlot {
  const text = Array.isArray(fixed) ? '' : String(fixed);
  const inline = text.trim() ? escapeHtml(text) : '';
  const url = typeof fixed === 'string' ? escapeHtml(safeUrl(fixed)) : '';
  const { fixedKind: kind, fixedSettings = {}, fixed: valueFrom, needs } = SLOT_SHAPES[shape];
  const value = valueFrom(fixed, String(fixed).trim());
  const type: ValueType = {
    kind,
    settings: fixedSettings,
    many: Array.isArray(value),
    label: 'Fixed',
    typeIds: [],
  };
  const write: Write = (v) => String(v);
  const problems =
    value === undefined && text.trim()
      ? [problem('fixed', `“${text.slice(0, 60)}” is not ${needs}.`, `Give ${needs}.`)]
      : [];
  return {
    bound: false,
    problems,
    inline: () => inline,
    blocks: (_env, attributes) => paragraphs(text, attributes),
    url: () => url,
    picture: (env) => (typeof fixed === 'number' && env.pool.media(fixed) ? fixed : undefined),
    found: (env) => {
      if (value === undefined) return undefined;
      if (shape !== 'pictures') return { value, type, write };
      const here = (Array.isArray(value) ? (value as number[]) : [value as number]).filter((id) => env.pool.media(id));
      return here.length ? { value: here, type, write } : undefined;
    },
  };
}

/** Running text with values in it: each paragraph becomes markup; one whose every value is empty is left out. */
function wordsSlot(words: Run[][], scopes: Scopes, model: ModelIndex): CompiledSlot {
  const problems: Problem[] = [];
  let bound = false;
  const lines = words.map((runs, i) => {
    const made = runs.map((run, j) => {
      const value = run.bound && boundSlot(run.bound, 'inline', scopes, model);
      const link = run.link && compileSlot(run.link, 'url', scopes, model);
      for (const slot of [value, link])
        if (slot) problems.push(...slot.problems.map((p) => ({ ...p, at: `words.${i}.${j}.${p.at}` })));
      if (value) bound = true;
      const text = escapeHtml(run.text ?? '').replace(/\n/g, '<br>');
      const open = (run.strong ? '<strong>' : '') + (run.em ? '<em>' : '');
      const close = (run.em ? '</em>' : '') + (run.strong ? '</strong>' : '');
      return {
        value: value !== undefined,
        write: (env: Env) => {
          const inner = value ? value.inline(env) : text;
          if (!inner) return '';
          const url = link?.url(env);
          return url ? `<a href="${url}">${open}${inner}${close}</a>` : open + inner + close;
        },
      };
    });
    const values = made.filter((run) => run.value);
    return (env: Env): string => {
      const parts = made.map((run) => run.write(env));
      if (values.length && made.every((run, at) => !run.value || !parts[at])) return '';
      const line = parts.join('');
      return line.trim() ? line : '';
    };
  });
  const written = (env: Env) => lines.map((line) => line(env)).filter(Boolean);
  return {
    ...NOTHING,
    bound,
    problems,
    inline: (env) => written(env).join('<br>'),
    blocks: (env, attributes = '') => {
      const all = written(env);
      if (all.length <= 1) return all.length ? `<p${attributes}>${all[0]}</p>` : '';
      return `<div${attributes}>${all.map((line) => `<p>${line}</p>`).join('')}</div>`;
    },
  };
}

/** Signs around the words before and after a value: noncharacters (Unicode, 23.7), which no text has. */
const [BEFORE, AFTER, CLOSE] = ['\uFDD0', '\uFDD1', '\uFDD2'];
const SIGNS = /[\uFDD0-\uFDD2]/g;
const MARKUP: Record<string, string> = {
  [BEFORE]: '<span class="before">',
  [AFTER]: '<span class="after">',
  [CLOSE]: '</span>',
};

/** The words around a value, in elements of their own where these have looks. */
function marksFor(
  { before, after }: Binding,
  boxes: ReadonlySet<string>,
): { around(text: string): string; inHtml(slot: CompiledSlot): CompiledSlot } {
  const whole = (words: string) => words.trim() !== '' && !words.includes('\n');
  const [first, last] = [boxes.has('before') && whole(before), boxes.has('after') && whole(after)];
  if (!first && !last) return { around: (text) => before + text + after, inHtml: (slot) => slot };
  const marked = (html: string) => html.replace(SIGNS, (sign) => MARKUP[sign] as string);
  return {
    around: (text) =>
      (first ? BEFORE + before.replace(SIGNS, '') + CLOSE : before) +
      text.replace(SIGNS, '') +
      (last ? AFTER + after.replace(SIGNS, '') + CLOSE : after),
    inHtml: (slot) => ({
      ...slot,
      inline: (env) => marked(slot.inline(env)),
      blocks: (env, attributes) => marked(slot.blocks(env, attributes)),
    }),
  };
}

function boundSlot(
  binding: Binding,
  shape: SlotShape,
  scopes: Scopes,
  model: ModelIndex,
  boxes: ReadonlySet<string> = NO_BOXES,
): CompiledSlot {
  const problems: Problem[] = [];
  const sources: Source[] = [];
  let lastResort = '';
  for (const [i, source] of [{ path: binding.path, take: binding.take }, ...binding.fallbacks].entries()) {
    if ('text' in source) {
      lastResort = source.text;
      break;
    }
    const made = compileSource(source, binding.formats, shape, scopes, model);
    if (made.ok) {
      sources.push(made.value);
      if (i === 0) problems.push(...made.value.problems);
    } else problems.push(...made.problems.map((p) => (i ? { ...p, at: `fallbacks.${i - 1}.${p.at}` } : p)));
  }
  const { before, after } = binding;
  const around = (text: string) => (text ? before + text + after : '');
  const marks = marksFor(binding, boxes);
  const end = lastResort.trim() ? marks.around(lastResort) : '';

  /** The text of one source, with the words around it; '' where it is empty. */
  const textOf = (source: Source, env: Env): string => {
    const value = source.read(env);
    if (value === undefined) return '';
    const written = source.write(value, env);
    // Only text that begins with white space can be nothing else.
    return written !== '' && (written.charCodeAt(0) > 32 || written.trim()) ? marks.around(written) : '';
  };
  const [only, second] = sources;
  const first = <T>(env: Env, pick: (source: Source, value: unknown) => T | undefined): T | undefined => {
    for (const source of sources) {
      const value = source.read(env);
      const picked = value === undefined ? undefined : pick(source, value);
      if (picked !== undefined && picked !== '') return picked;
    }
    return undefined;
  };
  const rich =
    before === '' &&
    after === '' &&
    sources.some((source) => source.plain && source.type.kind.blocks && !source.type.many);
  const languages = new Map(
    sources.map((source) => [source, otherLanguage(source.type.settings, model.site.locale)] as const),
  );
  const surrounding = directionOf(model.site.locale);
  /** What a text in another language, or that runs the other way, says of itself. */
  const marked = (source: Source, text: string, markup = false): string => {
    const tag = languages.get(source);
    const dir = otherDirection(text, surrounding, markup);
    return (tag ? ` lang="${tag}"` : '') + (dir ? ` dir="${dir}"` : '');
  };
  const standIn = lastResort.trim() ? fixedSlot(lastResort, shape) : undefined;

  return marks.inHtml({
    bound: true,
    problems,
    inline: (env) => {
      for (const source of sources) {
        const found = textOf(source, env);
        if (!found) continue;
        const says = marked(source, found);
        return says ? `<span${says}>${escapeHtml(found)}</span>` : escapeHtml(found);
      }
      return escapeHtml(end);
    },
    blocks: !rich
      ? (env, attributes = '') => {
          for (const source of sources) {
            const own = textOf(source, env);
            const found = own && paragraphs(own, attributes + marked(source, own));
            if (found) return found;
          }
          return paragraphs(end, attributes);
        }
      : (env, attributes = '') => {
          const drawn = first(env, (source, value) => {
            if (!source.plain || !source.type.kind.blocks || source.type.many) {
              const own = source.write(value, env);
              return paragraphs(own, attributes + marked(source, own));
            }
            const html = source.type.kind.blocks(value, source.type.settings);
            return `<div${attributes}${marked(source, html, true)}>${html}</div>`;
          });
          return drawn ?? paragraphs(lastResort, attributes);
        },
    url:
      only && !second && !lastResort
        ? (env) => {
            const value = only.read(env);
            return value === undefined ? '' : escapeHtml(only.type.kind.url?.(value, env.reader) ?? '');
          }
        : (env) =>
            escapeHtml(first(env, (source, value) => source.type.kind.url?.(value, env.reader)) ?? safeUrl(lastResort)),
    picture: (env) => first(env, (_source, value) => value as number),
    found: (env) => {
      for (const source of sources) {
        const value = source.read(env);
        if (value === undefined) continue;
        const { type } = source;
        return { value, type, write: (v, e) => around((Array.isArray(v) ? source.write : source.writeOne)(v, e)) };
      }
      return standIn?.found(env);
    },
  });
}
