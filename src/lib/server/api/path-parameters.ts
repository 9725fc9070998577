import { z } from 'zod';
import { Refusal } from '../base/refusal';

/** A number that the database gave, from 1 to ten digits. */
const Serial = z
  .string()
  .regex(/^[1-9]\d{0,9}$/)
  .transform(Number);
/** An id that somebody chose, or a random one. */
const Key = z.string();

/** The parameters of addresses, by name. */
export const pathParameters = {
  recordId: Serial,
  mediaId: Serial,
  authorId: Serial,
  accountId: Serial,
  releaseId: Serial,
  shareId: Serial,
  version: Serial,
  typeId: Key,
  taxonomyId: Key,
  termId: Key,
  templateId: Key,
  ruleId: Key,
  menuId: Key,
  removalId: Key,
  passkeyId: Key,
  sessionId: Key,
  tokenId: Key,
  jobId: Key,
  file: Key,
} satisfies Record<string, z.ZodType<unknown, string>>;
export type ParameterName = keyof typeof pathParameters;

type NamesIn<P extends string> = P extends `${string}{${infer Name}}${infer Rest}` ? Name | NamesIn<Rest> : never;

/** The parameters of a path such as `/records/{recordId}`, each as its schema gives it. */
export type ParametersOf<P extends string> = {
  [Name in NamesIn<P> & ParameterName]: z.output<(typeof pathParameters)[Name]>;
};

/** The names of the parameters of a path, in their order. */
export const namesIn = (path: string): ParameterName[] =>
  [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name as ParameterName);

/** The parameters of an address as their schemas give them; refused (404) where one cannot name anything. */
export function readParameters<P extends string>(path: P, raw: Record<string, string>): ParametersOf<P> {
  const read: Record<string, unknown> = {};
  for (const name of namesIn(path)) {
    const parsed = pathParameters[name].safeParse(raw[name]);
    if (!parsed.success) throw new Refusal(404, 'There is nothing with this number.');
    read[name] = parsed.data;
  }
  return read as ParametersOf<P>;
}
