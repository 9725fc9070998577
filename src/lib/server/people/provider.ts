import * as oidc from 'openid-client';
import { z } from 'zod';
import { atLeast, ROLES, type Role } from '../../core/people/roles';
import { readSetting, writeSetting } from '../queries/settings';
import { log } from '../base/log';
import { Refusal } from '../base/refusal';
import { accountNumbered, changeAccount, createAccount, Email, endOtherAccess, joinAccount } from './accounts';
import { accountRow, type AccountRow } from '../queries/accounts';
import { askToJoin, letKnow } from './links';
import { givePass, usePass } from './passes';
import { configuration, perServer } from '../base/server';

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

export async function readProviderRules(): Promise<ProviderRules> {
  return (await readSetting<ProviderRules>('roles by identity provider')) ?? { rules: [] };
}
export async function saveProviderRules(value: ProviderRules): Promise<ProviderRules> {
  await writeSetting('roles by identity provider', value);
  return value;
}

/** What the identity provider is called on the sign-in page; undefined where there is none (`PLUM_PROVIDER`). */
export const providerName = (): string | undefined => configuration().provider?.name;

/** What the provider said of itself last, and until when that is taken for true, in milliseconds since 1970. */
const discovered = perServer((): { last?: { provider: oidc.Configuration; until: number } } => ({}));
const HOUR = 3_600_000;

/** What the provider says of itself (OpenID Connect Discovery 1.0), asked anew every hour. */
async function discover(): Promise<oidc.Configuration> {
  const { provider } = configuration();
  if (!provider) throw new Refusal(404, 'There is no identity provider here.');
  const { issuer, clientId, clientSecret, algorithm } = provider;
  const cache = discovered();
  if (cache.last && cache.last.until > Date.now()) return cache.last.provider;
  const url = new URL(issuer);
  // Only on this very machine may it be asked without TLS.
  const plain = url.protocol === 'http:' && /^(127\.0\.0\.1|localhost|\[::1\])$/.test(url.hostname);
  const found = await oidc.discovery(
    url,
    clientId,
    { client_secret: clientSecret, id_token_signed_response_alg: algorithm },
    undefined,
    {
      timeout: 5,
      // The signature of what it says of somebody is verified by its published keys (OpenID Connect Core 1.0, 3.1.3.7), not left to TLS alone.
      execute: [oidc.enableNonRepudiationChecks, ...(plain ? [oidc.allowInsecureRequests] : [])],
    },
  );
  cache.last = { provider: found, until: Date.now() + HOUR };
  return found;
}

const AWAY = 'The identity provider does not answer. Try again in a moment, or sign in another way.';

/**
 * The address to which a browser is sent, and the pass with which it comes back; with PKCE, state and nonce. `joins` is the account that is signed in
 * there and wants to be joined to whoever comes back.
 */
export async function askProvider(
  callback: string,
  to: string,
  joins?: number,
): Promise<{ address: string; pass: string }> {
  const found = await discover().catch((error: unknown) => {
    if (error instanceof Refusal) throw error;
    log().warn({ err: (error as Error).message }, 'The identity provider does not answer');
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
  return {
    address: address.href,
    pass: await givePass('provider', { accountId: joins, data: { verifier, state, nonce, to } }),
  };
}

const Claims = z.object({
  iss: z.string(),
  sub: z.string().min(1).max(255),
  name: z.string().max(160).optional(),
  email: z.string().max(254).optional(),
  email_verified: z.boolean().optional(),
  groups: z.array(z.string().max(200)).max(1000).optional(),
  /** How the provider made sure who it is (RFC 8176). */
  amr: z.array(z.string().max(40)).max(20).optional(),
  /** Seconds since 1970. */
  iat: z.number(),
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

/** Methods that say that there was a second factor, or something that somebody has (RFC 8176, 2). */
const SECOND_FACTORS = new Set(['mfa', 'otp', 'hwk', 'swk', 'sc', 'sms', 'tel']);

/** How old a statement about somebody may be, and by how much the provider's clock may be ahead, in seconds. */
const OLDEST = 600;
const AHEAD = 60;

/** What came of somebody's way by the provider: who it is and whether the provider saw a second factor; or that a link was sent to join an account. */
export type FromProvider = { account: AccountRow; secondFactor: boolean; to: string } | { joining: string };

/** Who comes back from the provider, with an account made for them where the rules give one; `to` is where they wanted to go. */
export async function providerAnswered(pass: string | undefined, url: URL, signedIn?: number): Promise<FromProvider> {
  const begun = await usePass(pass, 'provider');
  if (!begun) throw new Refusal(409, 'This took too long, or was begun in another browser. Sign in once more.');
  const { verifier, state, nonce, to } = begun.data as Record<'verifier' | 'state' | 'nonce' | 'to', string>;
  const tokens = await oidc
    .authorizationCodeGrant(await discover(), url, {
      pkceCodeVerifier: verifier,
      expectedState: state,
      expectedNonce: nonce,
      idTokenExpected: true,
    })
    .catch((error: unknown) => {
      log().warn({ err: (error as Error).message }, 'The identity provider sent a response that does not verify');
      throw new Refusal(403, 'The identity provider did not let you in, or what it sent does not hold.');
    });
  const claims = Claims.safeParse(tokens.claims());
  if (!claims.success) throw new Refusal(403, 'What the identity provider sent cannot be understood.');
  const age = Date.now() / 1000 - claims.data.iat;
  if (age > OLDEST || age < -AHEAD)
    throw new Refusal(403, 'What the identity provider sent is not of now. Sign in once more.');
  if (begun.accountId !== null && begun.accountId !== signedIn)
    throw new Refusal(409, 'You are signed in as somebody else by now. Begin once more.');
  const found = await accountFor(claims.data, begun.accountId ?? undefined, url.origin);
  if ('joining' in found) return found;
  return { account: found, secondFactor: claims.data.amr?.some((one) => SECOND_FACTORS.has(one)) ?? false, to };
}

/** The role by hand and by rule that an account has after coming in: what a rule gives while it does, then what it had before. */
async function withRole(account: AccountRow, role: Role | undefined): Promise<AccountRow> {
  const { roleByRule, roleBefore } = account;
  let change: Parameters<typeof changeAccount>[1] | undefined;
  if (role && (role !== account.role || !roleByRule))
    change = { role, roleByRule: true, roleBefore: roleByRule ? roleBefore : account.role };
  else if (!role && roleByRule) change = { role: roleBefore ?? 'reader', roleByRule: false, roleBefore: null };
  if (change) {
    // The last owner stays one, whatever the provider says.
    const changed = await changeAccount(account.id, change).catch((error: unknown) => {
      if (!(error instanceof Refusal)) throw error;
    });
    // Whoever cannot be lowered, as the last owner cannot, stays and comes in.
    if (!changed) return account;
    if (changed.role !== account.role) await endOtherAccess(account.id);
  }
  if (!role && roleByRule && roleBefore === null)
    throw new Refusal(403, 'There is no rule any more that gives you a role here. Ask an owner.');
  return change ? accountNumbered(account.id) : account;
}

async function accountFor(
  claims: Claims,
  joins: number | undefined,
  origin: string,
): Promise<AccountRow | { joining: string }> {
  const subject = `${claims.iss} ${claims.sub}`.slice(0, 500);
  const role = roleBy(await readProviderRules(), claims);
  const email = claims.email_verified ? Email.safeParse(claims.email).data : undefined;
  let account = await accountRow({ subject });
  if (joins !== undefined) {
    if (account && account.id !== joins)
      throw new Refusal(409, 'Whom you came back as has another account here. Ask an owner.');
    if (!account) {
      await joinAccount(joins, subject, {});
      await endOtherAccess(joins);
      account = await accountNumbered(joins);
      letKnow(account, `The identity provider ${providerName() ?? ''} signs you in from now on.`);
    }
  }
  if (!account && email) {
    const sameAddress = await accountRow({ email });
    if (sameAddress) return { joining: await offerToJoin(sameAddress, subject, origin) };
  }
  if (!account) {
    if (!role || !email)
      throw new Refusal(403, 'There is no account for you here, and no rule that makes one. Ask an owner.');
    const created = await createAccount(
      { name: claims.name?.trim() || email, email, role, mayPublish: false },
      { subject, emailProved: true, roleByRule: true },
    );
    account = await accountNumbered(created.id);
  }
  if (account.closed) throw new Refusal(403, 'This account is closed. Ask an owner.');
  return withRole(account, role);
}

/**
 * An account with the address of somebody who comes for the first time is not theirs by that alone: whoever wrote the address there may be another. A link to the
 * address proves it on this side too.
 */
async function offerToJoin(account: AccountRow, subject: string, origin: string): Promise<string> {
  // An account that another person of the provider has taken stays theirs.
  if (account.subject !== null || account.closed)
    throw new Refusal(403, 'There is another account with your address. Ask an owner.');
  if (!(await askToJoin(account, subject, providerName() ?? 'An identity provider', origin)))
    throw new Refusal(
      403,
      'There is an account with your address already. Sign in to it in another way, and join it to the provider under “Your account”.',
    );
  return account.email;
}
