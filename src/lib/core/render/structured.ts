import type { ContentRecord } from '../schema/record';
import type { ShownAs } from '../model/family';
import { roleOfField } from '../model/field';
import type { ModelIndex } from '../model/model-index';
import type { Structured } from '../schema/structured';
import { compilePath, type CompiledPath } from '../paths/compile';
import type { Env } from '../paths/env';
import { problem, type Problem } from '../base/result';
import { addressOfArchive } from '../addresses/archives';
import { addressOf } from '../addresses/addresses';
import { isType, propertiesOf } from '../base/vocabulary';

const TO_PEOPLE = /^(?:tel|mailto):/;

type Json = string | number | boolean | { [key: string]: Json | undefined } | Json[];

/** What is wrong with what records of a type are said to be. */
export function structuredProblems({ is, properties }: Structured, typeId: string, model: ModelIndex): Problem[] {
  if (!isType(is))
    return [problem('structured.is', `There is no type “${is}” in the vocabulary.`, 'Choose one of the list.')];
  const known = new Set(propertiesOf(is).map(({ name }) => name));
  return properties.flatMap(({ property, path }, i) => {
    if (!known.has(property))
      return [problem(`structured.properties.${i}`, `${is} has no property “${property}”.`, 'Choose one of its own.')];
    const made = compilePath(path, { recordTypeIds: [typeId], loops: [] }, model);
    return made.ok ? [] : made.problems.map((p) => ({ ...p, at: `structured.properties.${i}` }));
  });
}

/**
 * A record as JSON-LD 1.1 in the vocabulary of schema.org, by what its type is said to be; undefined where nothing is
 * said. `origin` is put before addresses. Without a property for them, name and address are those of the record.
 */
export function structuredOf(record: ContentRecord, env: Env, origin: string): Json | undefined {
  const { model } = env;
  const said = model.type(record.typeId)?.structured;
  if (!said) return undefined;
  const here = { ...env, record };
  const out: Record<string, Json> = {
    '@context': 'https://schema.org',
    '@type': said.is,
    name: record.title,
    url: origin + addressOf(record, model),
  };
  const given: Record<string, Json[]> = {};
  for (const { property, path } of said.properties) {
    const made = compilePath(path, { recordTypeIds: [record.typeId], loops: [] }, model);
    if (!made.ok) continue;
    const value = made.value.read(here);
    const list = (Array.isArray(value) ? (value as unknown[]) : [value]).flatMap((one) => {
      const told = valueOf(one, made.value, here, origin);
      return told === undefined ? [] : [told];
    });
    if (list.length) (given[property] ??= []).push(...list);
  }
  // What is written by somebody at some time says so by itself; of other things these are no properties.
  const known = new Set(propertiesOf(said.is).map(({ name }) => name));
  const author = record.authorId === null ? undefined : model.author(record.authorId);
  if (known.has('author') && author)
    out.author = {
      '@type': 'Person',
      name: author.name,
      url: origin + addressOfArchive({ of: 'author', authorId: author.id }, model),
    };
  if (known.has('datePublished') && record.published) out.datePublished = record.published;
  if (known.has('dateModified')) out.dateModified = record.changed;
  for (const [property, list] of Object.entries(given)) out[property] = list.length > 1 ? list : (list[0] as Json);
  return out;
}

function valueOf(value: unknown, { type }: CompiledPath, env: Env, origin: string): Json | undefined {
  if (value === undefined || value === null || type.kind.isEmpty(value)) return undefined;
  const { kind, settings } = type;
  const { told, slots } = kind.family;
  if (told) return told(value, env.reader, origin) as Json | undefined;
  const url = slots.includes('url') ? kind.url?.(value, env.reader) : undefined;
  // Numbers and addresses to write to are texts of the vocabulary, not links.
  if (url && TO_PEOPLE.test(url)) return url.replace(TO_PEOPLE, '');
  if (url) return url.startsWith('/') ? origin + url : url;
  return kind.text(value, settings, env.reader) || undefined;
}

/** JSON that may stand in an HTML script element: nothing in it can end the element. */
export const scriptJson = (value: unknown): string => JSON.stringify(value).replace(/</g, '\\u003c');

/** Properties that the fields of a type suggest by what kind they are. */
export function suggestedProperties(typeId: string, is: string, model: ModelIndex): Structured['properties'] {
  const known = new Set(propertiesOf(is).map(({ name }) => name));
  const first = (...roles: ShownAs[]) =>
    model.type(typeId)?.fields.find((field) => roles.some((role) => role === roleOfField(field)))?.id;
  const picks: [string, string | undefined][] = [
    ['name', '@title'],
    ['headline', '@title'],
    ['description', '@excerpt'],
    ['image', first('picture', 'pictures')],
    ['geo', first('map')],
    ['datePublished', '@published'],
    ['dateModified', '@changed'],
  ];
  return picks.flatMap(([property, step]) =>
    step && known.has(property) ? [{ property, path: { from: 'record', steps: [step] } }] : [],
  );
}
