import { z } from 'zod';
import { newId } from '../../core/base/ids';
import type { Person } from '../../core/people/roles';
import { fromJson } from '../database/connect';
import {
  apiTokenRows,
  countApiTokens,
  deleteApiToken,
  deleteApiTokens,
  insertApiToken,
  noteApiTokenUse,
} from '../queries/api-tokens';
import { apiTokenOf } from '../queries/people';
import { notFound, Refusal } from '../base/refusal';
import { hashOf, isSecret, newSecret } from './secrets';

/** Before every token, so that one that got into a file by mistake is found there. */
const PREFIX = 'plumthread_';
const DAY = 86_400_000;

export const NewToken = z.strictObject({
  name: z.string().trim().min(1, { error: 'Give a name.' }).max(100, { error: 'This name is too long.' }),
  /** Groups of operations, by their tags in the document. */
  scopes: z.array(z.string().max(40)).min(1, { error: 'Choose what it may ask for.' }).max(40),
  /** Whether it may only read. */
  readOnly: z.boolean().default(false),
  days: z
    .number({ error: 'Say for how many days it holds.' })
    .int()
    .min(1, { error: 'A token holds for a day at least.' })
    .max(366, { error: 'A token holds for a year at most.' })
    .default(90),
});

export interface Token {
  id: string;
  name: string;
  scopes: string[];
  readOnly: boolean;
  /** Instants, RFC 3339. */
  created: string;
  ends: string;
  used: string | null;
}
interface Row {
  id: string;
  accountId: number;
  name: string;
  scopes: unknown;
  created: Date;
  ends: Date;
  used: Date | null;
}
interface Scopes {
  tags: string[];
  readOnly: boolean;
}
const toldToken = ({ id, name, scopes, created, ends, used }: Row): Token => {
  const { tags, readOnly } = fromJson<Scopes>(scopes);
  return {
    id,
    name,
    scopes: tags,
    readOnly,
    created: created.toISOString(),
    ends: ends.toISOString(),
    used: used?.toISOString() ?? null,
  };
};

/** Makes a token; it is told this once. `known` are the groups of operations that there are. */
export async function createToken(
  accountId: number,
  { name, scopes, readOnly, days }: z.infer<typeof NewToken>,
  known: readonly string[],
): Promise<Token & { token: string }> {
  const strange = scopes.find((one) => !known.includes(one));
  if (strange)
    throw new Refusal(422, 'The token cannot be made.', [
      { at: 'scopes', what: `There is no group “${strange}”.`, fix: `Choose among ${known.join(', ')}.` },
    ]);
  if ((await countApiTokens(accountId)) >= 50)
    throw new Refusal(409, 'There are 50 tokens already. Take one away first.');
  const secret = newSecret();
  const created = new Date();
  const row = {
    id: newId('tk'),
    accountId,
    name,
    tokenHash: hashOf(secret),
    created,
    used: null,
    scopes: { tags: scopes, readOnly },
    ends: new Date(created.getTime() + days * DAY),
  };
  await insertApiToken(row);
  return { ...toldToken(row), token: PREFIX + secret };
}

export const readTokens = async (accountId: number): Promise<Token[]> =>
  (await apiTokenRows(1000, accountId)).map(toldToken);

/** Every token with whose it is, for owners. */
export const readAllTokens = async (): Promise<(Token & { accountId: number })[]> =>
  (await apiTokenRows(1000)).map((row) => ({
    ...toldToken(row),
    accountId: row.accountId,
  }));

export async function deleteToken(id: string, accountId?: number): Promise<void> {
  if (!(await deleteApiToken(id, accountId))) throw notFound('token with this id');
}

/** Ends every token of an account. */
export const endTokens = (accountId: number): Promise<void> => deleteApiTokens(accountId);

export interface ByToken extends Person {
  token: string;
  scopes: Scopes;
}

/** Who asks by a token of `Authorization: Bearer` (RFC 6750), while it holds. */
export async function tokenWith(header: string | null): Promise<ByToken | undefined> {
  const given = /^Bearer plumthread_([\w-]{43})$/i.exec((header ?? '').slice(0, 100))?.[1];
  if (!isSecret(given)) return undefined;
  const now = new Date();
  const row = await apiTokenOf(hashOf(given), now);
  if (!row) return undefined;
  if (!row.used || now.getTime() - row.used.getTime() > 60_000) await noteApiTokenUse(row.id, now);
  const { accountId, name, role, mayPublish, scopes, id } = row;
  return { id: accountId, name, role, mayPublish, token: id, scopes: fromJson<Scopes>(scopes) };
}
