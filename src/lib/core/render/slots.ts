import { formatNamed } from '../formats';
import { writeList } from '../formats/write';
import type { Format } from '../formats/format';
import { paragraphs } from '../model/kinds/long-text';
import type { Family } from '../model/kinds/kind';
import type { ModelIndex, Site } from '../model/model';
import { compilePath } from '../paths/compile';
import type { Env } from '../paths/env';
import type { Path, Scopes, ValueType } from '../paths/path';
import { fail, ok, problem, type Problem, type Result } from '../result';
import type { Binding, FormatUse, SlotValue, Take } from '../templates/binding';
import { takeOf, takesFor, typeAfter } from '../templates/takes';
import { escapeHtml, safeUrl } from '../text';
import { writeValue } from './write-value';

/** What a slot takes: a run of text, blocks of text, an address, or a picture. */
export type SlotShape = 'inline' | 'blocks' | 'url' | 'picture';

const WORDS: Family[] = [
  'text',
  'rich',
  'number',
  'yesno',
  'date',
  'time',
  'datetime',
  'choice',
  'link',
  'file',
  'icon',
  'colour',
  'place',
  'relation',
  'rows',
  'terms',
];

/** Families that each shape takes. Whatever is not here is a mismatch, with a repair. */
const FITS: Record<SlotShape, Family[]> = {
  inline: WORDS,
  blocks: [...WORDS, 'embed'],
  url: ['link', 'file', 'embed', 'relation'],
  picture: ['picture'],
};

const NEEDS: Record<SlotShape, string> = { inline: 'text', blocks: 'text', url: 'an address', picture: 'a picture' };

/** Why a value of this type cannot go into a slot of this shape; undefined where it fits. */
export function misfit(type: ValueType, shape: SlotShape, take?: Take): Problem | undefined {
  const after = typeAfter(type, take);
  if (!FITS[shape].includes(after.kind.family))
    return problem(
      'path',
      `${type.label} is ${after.kind.label.toLowerCase()}; this takes ${NEEDS[shape]}.`,
      `Choose ${NEEDS[shape]}.`,
    );
  if (after.many && (shape === 'url' || shape === 'picture'))
    return problem(
      'take',
      `${type.label} has several values; this takes one.`,
      'Use the first, or repeat over them with a loop.',
    );
  if (take && !takesFor(type).includes(take))
    return problem('take', `${type.label} cannot be taken that way.`, 'Choose another way to make one value of many.');
  return undefined;
}

/** How a binding starts out when a value of this type is put into a slot of this shape. */
export function startingTake(type: ValueType, shape: SlotShape): Take | undefined {
  if (!type.many) return undefined;
  return shape === 'url' || shape === 'picture' ? 'first' : 'listed';
}

/** A slot made ready. Each reader gives '' or undefined where there is nothing to show. */
export interface CompiledSlot {
  bound: boolean;
  problems: Problem[];
  /** Escaped text. */
  inline(env: Env): string;
  /** HTML blocks; `attributes` go to the outermost element. */
  blocks(env: Env, attributes?: string): string;
  url(env: Env): string;
  picture(env: Env): number | undefined;
}

interface Source {
  type: ValueType;
  read(env: Env): unknown;
  text(env: Env, value: unknown): string;
  plain: boolean;
}

type Step = (value: unknown, env: Env) => unknown;

/** A chain of formats over a type, as one function from value to text; formats that do not fit are left out and told. */
export function compileFormats(
  uses: FormatUse[],
  type: ValueType,
  site: Site,
): { write(value: unknown, env: Env): string; problems: Problem[]; applied: number } {
  const problems: Problem[] = [];
  const steps: Step[] = [];
  let raw = true;
  for (const [i, use] of uses.entries()) {
    const format = formatNamed(use.format);
    if (!format) {
      problems.push(problem(`formats.${i}`, `There is no format named “${use.format}”.`));
      continue;
    }
    const options = format.options.safeParse(use.options);
    if (!options.success) {
      problems.push(problem(`formats.${i}`, options.error.issues[0]?.message ?? 'The format cannot be set so.'));
      continue;
    }
    const takesRaw = raw && format.families.includes(type.kind.family) && type.kind.family !== 'text';
    if (!takesRaw && !format.families.includes('text')) {
      problems.push(
        problem(`formats.${i}`, `The format “${format.label}” does not fit ${type.label}.`, 'Take the format away.'),
      );
      continue;
    }
    steps.push(formatStep(format, options.data, type, takesRaw, raw));
    raw = false;
  }
  const [only, second] = steps;
  const writer = only || type.many ? undefined : type.kind.writer?.(type.settings, site);
  const write = writer
    ? writer
    : !only
      ? (value: unknown, env: Env) => writeValue(value, type, env)
      : !second
        ? (value: unknown, env: Env) => only(value, env) as string
        : (value: unknown, env: Env) => steps.reduce((v, step) => step(v, env), value) as string;
  return { write, problems, applied: steps.length };
}

function formatStep(format: Format, options: unknown, type: ValueType, takesRaw: boolean, first: boolean): Step {
  const unit = type.kind.family === 'number' ? (type.settings as { unit?: string }).unit : undefined;
  const write = (value: unknown, env: Env) => format.write(value, options, { site: env.model.site, unit });
  // Of a list each value is written, and then they are listed.
  if (takesRaw && type.many)
    return (value, env) =>
      writeList(
        (value as unknown[]).map((one) => write(one, env)),
        env.model.site.locale,
      );
  if (takesRaw || !first) return write;
  return (value, env) => write(writeValue(value, type, env), env);
}

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
  const { write, problems, applied } = compileFormats(formats, after, model.site);
  const value =
    type.many && take
      ? (env: Env) => nonEmpty(takeOf(read(env) as unknown[], take))
      : type.many
        ? (env: Env) => nonEmpty(read(env))
        : read;
  return ok({ type: after, read: value, text: (env, v) => write(v, env), plain: applied === 0, problems });
}

const nonEmpty = (value: unknown): unknown => (Array.isArray(value) && value.length === 0 ? undefined : value);

const NOTHING: CompiledSlot = {
  bound: false,
  problems: [],
  inline: () => '',
  blocks: () => '',
  url: () => '',
  picture: () => undefined,
};

export function compileSlot(
  slot: SlotValue | undefined,
  shape: SlotShape,
  scopes: Scopes,
  model: ModelIndex,
): CompiledSlot {
  if (!slot) return NOTHING;
  return 'fixed' in slot ? fixedSlot(slot.fixed) : boundSlot(slot.bound, shape, scopes, model);
}

function fixedSlot(fixed: string | number): CompiledSlot {
  const text = String(fixed);
  const inline = text.trim() ? escapeHtml(text) : '';
  const url = typeof fixed === 'string' ? escapeHtml(safeUrl(fixed)) : '';
  return {
    bound: false,
    problems: [],
    inline: () => inline,
    blocks: (_env, attributes) => paragraphs(text, attributes),
    url: () => url,
    picture: (env) => (typeof fixed === 'number' && env.pool.media(fixed) ? fixed : undefined),
  };
}

function boundSlot(binding: Binding, shape: SlotShape, scopes: Scopes, model: ModelIndex): CompiledSlot {
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
  const end = around(lastResort.trim() ? lastResort : '');

  /** The text of one source, with the words around it; '' where it is empty. */
  const textOf = (source: Source, env: Env): string => {
    const value = source.read(env);
    if (value === undefined) return '';
    const written = source.text(env, value);
    // Only text that begins with white space can be nothing else.
    return written !== '' && (written.charCodeAt(0) > 32 || written.trim()) ? before + written + after : '';
  };
  const [only, second] = sources;
  const text =
    only && !second
      ? (env: Env): string => textOf(only, env) || end
      : (env: Env): string => {
          for (const source of sources) {
            const found = textOf(source, env);
            if (found) return found;
          }
          return end;
        };
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

  return {
    bound: true,
    problems,
    inline: (env) => escapeHtml(text(env)),
    blocks: !rich
      ? (env, attributes) => paragraphs(text(env), attributes)
      : (env, attributes = '') => {
          const made = first(env, (source, value) =>
            source.plain && source.type.kind.blocks && !source.type.many
              ? `<div${attributes}>${source.type.kind.blocks(value, source.type.settings)}</div>`
              : paragraphs(source.text(env, value), attributes),
          );
          return made ?? paragraphs(lastResort, attributes);
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
  };
}
