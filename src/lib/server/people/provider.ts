import * as oidc from 'openid-client';
import { z } from 'zod';
import { atLeast, ROLES, type Role } from '../../core/people/roles';
import { fromJson } from '../database/connect';
import { table } from '../database/tables';
import { log } from '../log';
import { Refusal } from '../refusal';
import { accountRow, changeAccount, createAccount, Email, type AccountRow } from './accounts';
import { givePass, usePass } from './passes';

/** Which people of the identity provider get which role: by a group that it names them in, or the domain of their address. */
export const ProviderRules = z.strictObject({
  rules: z
    .array(
      z.strictObject({
        by: z.enum(['group', 'domain']),
        is: z.string().trim().toLowerCase().min(1, { error: 'Say which.' }).max(200),
        role: z.enum(ROLES),
      }),
    )
    .max(100),
});
export type ProviderRules = z.infer<typeof ProviderRules>;
const SETTING = 'roles by identity provider';

export async function readProviderRules(): Promise<ProviderRules> {
  const row = await table('settings').findByPk(SETTING);
  return row ? fromJson<ProviderRules>(row.get('value')) : { rules: [] };
}
export async function saveProviderRules(value: ProviderRules): Promise<ProviderRules> {
  await table('settings').upsert({ name: SETTING, value });
  return value;
}

/** What the identity provider is called on the sign-in page; undefined where there is none (`PLUM_PROVIDER`). */
export const providerName = (): string | undefined =>
  process.env.PLUM_PROVIDER
    ? (process.env.PLUM_PROVIDER_NAME ?? new URL(process.env.PLUM_PROVIDER).hostname)
    : undefined;

let known: { of: string; configuration: oidc.Configuration; until: number } | undefined;
const HOUR = 3_600_000;

/** What the provider says of itself (OpenID Connect Discovery 1.0), asked anew every hour. */
async function configuration(): Promise<oidc.Configuration> {
  const { PLUM_PROVIDER: issuer, PLUM_PROVIDER_ID: id = 'plum-thread', PLUM_PROVIDER_SECRET: secret } = process.env;
  if (!issuer) throw new Refusal(404, 'There is no identity provider here.');
  if (known && known.of === issuer && known.until > Date.now()) return known.configuration;
  const url = new URL(issuer);
  // Only on this very machine may it be asked without TLS.
  const plain = url.protocol === 'http:' && /^(127\.0\.0\.1|localhost|\[::1\])$/.test(url.hostname);
  const found = await oidc.discovery(url, id, secret, undefined, {
    timeout: 5,
    ...(plain && { execute: [oidc.allowInsecureRequests] }),
  });
  known = { of: issuer, configuration: found, until: Date.now() + HOUR };
  return found;
}

const AWAY = 'The identity provider does not answer. Try again in a moment, or sign in another way.';

/** The address to which a browser is sent, and the pass with which it comes back; with PKCE, state and nonce. */
export async function askProvider(callback: string, to: string): Promise<{ address: string; pass: string }> {
  const found = await configuration().catch((error: unknown) => {
    if (error instanceof Refusal) throw error;
    log.warn({ err: (error as Error).message }, 'The identity provider does not answer');
    throw new Refusal(409, AWAY);
  });
  const verifier = oidc.randomPKCECodeVerifier();
  const state = oidc.randomState();
  const nonce = oidc.randomNonce();
  const address = oidc.buildAuthorizationUrl(found, {
    redirect_uri: callback,
    scope: 'openid profile email groups',
    code_challenge: await oidc.calculatePKCECodeChallenge(verifier),
    code_challenge_method: 'S256',
    state,
    nonce,
  });
  return { address: address.href, pass: await givePass('provider', { data: { verifier, state, nonce, to } }) };
}

const Claims = z.object({
  iss: z.string(),
  sub: z.string().min(1).max(255),
  name: z.string().max(160).optional(),
  email: z.string().max(254).optional(),
  email_verified: z.boolean().optional(),
  groups: z.array(z.string().max(200)).max(1000).optional(),
});
type Claims = z.infer<typeof Claims>;

/** The highest role that the rules give to somebody; undefined where none speaks of them. */
export function roleBy(
  { rules }: ProviderRules,
  claims: Pick<Claims, 'email' | 'email_verified' | 'groups'>,
): Role | undefined {
  const groups = new Set(claims.groups?.map((one) => one.toLowerCase()));
  const domain = claims.email_verified ? claims.email?.toLowerCase().split('@').at(-1) : undefined;
  return rules
    .filter(({ by, is }) => (by === 'group' ? groups.has(is) : is === domain))
    .map(({ role }) => role)
    .reduce<Role | undefined>((most, role) => (most && atLeast(most, role) ? most : role), undefined);
}

/** Who comes back from the provider, with an account made for them where the rules give one; `to` is where they wanted to go. */
export async function providerAnswered(
  pass: string | undefined,
  url: URL,
): Promise<{ account: AccountRow; to: string }> {
  const begun = await usePass(pass, 'provider');
  if (!begun) throw new Refusal(409, 'This took too long, or was begun in another browser. Sign in once more.');
  const { verifier, state, nonce, to } = begun.data as Record<'verifier' | 'state' | 'nonce' | 'to', string>;
  const tokens = await oidc
    .authorizationCodeGrant(await configuration(), url, {
      pkceCodeVerifier: verifier,
      expectedState: state,
      expectedNonce: nonce,
      idTokenExpected: true,
    })
    .catch((error: unknown) => {
      log.warn({ err: (error as Error).message }, 'What the identity provider sent does not hold');
      throw new Refusal(403, 'The identity provider did not let you in, or what it sent does not hold.');
    });
  const claims = Claims.safeParse(tokens.claims());
  if (!claims.success) throw new Refusal(403, 'What the identity provider sent cannot be understood.');
  return { account: await accountFor(claims.data), to };
}

async function accountFor(claims: Claims): Promise<AccountRow> {
  const subject = `${claims.iss} ${claims.sub}`.slice(0, 500);
  const role = roleBy(await readProviderRules(), claims);
  const email = claims.email_verified ? Email.safeParse(claims.email).data : undefined;
  let account = await accountRow({ subject });
  const sameAddress = !account && email ? await accountRow({ email }) : undefined;
  if (sameAddress) {
    // An account that another person of the provider has taken stays theirs.
    if (sameAddress.subject !== null)
      throw new Refusal(403, 'There is another account with your address. Ask an owner.');
    await table('accounts').update({ subject }, { where: { id: sameAddress.id } });
    account = { ...sameAddress, subject };
  }
  if (!account) {
    if (!role || !email)
      throw new Refusal(403, 'There is no account for you here, and no rule that makes one. Ask an owner.');
    const made = await createAccount(
      { name: claims.name?.trim() || email, email, role, mayPublish: false },
      { subject },
    );
    account = await accountRow({ id: made.id });
  } else if (role && role !== account.role) {
    // The last owner stays one, whatever the provider says.
    const changed = await changeAccount(account.id, { role }).catch((error: unknown) => {
      if (!(error instanceof Refusal)) throw error;
    });
    if (changed) account = { ...account, role };
  }
  if (!account || account.closed) throw new Refusal(403, 'This account is closed. Ask an owner.');
  return account;
}
