import {
  generateAuthenticationOptions,
  generateRegistrationOptions,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
  type AuthenticationResponseJSON,
  type AuthenticatorTransport,
  type RegistrationResponseJSON,
} from '@simplewebauthn/server';
import { newId } from '../../core/base/ids';
import { accountRow, type AccountRow } from '../queries/accounts';
import { deletePasskeyRow, insertPasskey, notePasskeyUse, passkeyRows, passkeyWith } from '../queries/passkeys';
import { notFound, Refusal } from '../base/refusal';
import { accountNumbered } from './accounts';
import { givePass, usePass } from './passes';

/** Where passkeys are good: the name and origin of the pages that ask for them. */
export interface Party {
  origin: string;
}
const nameOf = ({ origin }: Party) => new URL(origin).hostname;

export interface Passkey {
  id: string;
  name: string;
  /** Instants, RFC 3339. */
  created: string;
  used: string | null;
}

export const readPasskeys = async (accountId: number): Promise<Passkey[]> =>
  (await passkeyRows(accountId)).map(({ id, name, created, used }) => ({
    id,
    name,
    created: created.toISOString(),
    used: used?.toISOString() ?? null,
  }));

/** What a browser needs to make a passkey (WebAuthn level 3, 5.4), and the pass with which it comes back. */
export async function beginPasskey(accountId: number, party: Party) {
  const [account, known] = await Promise.all([accountNumbered(accountId), passkeyRows(accountId)]);
  if (known.length >= 20) throw new Refusal(409, 'There are 20 passkeys already. Take one away first.');
  const options = await generateRegistrationOptions({
    rpName: 'Plum Thread',
    rpID: nameOf(party),
    userName: account.email,
    userDisplayName: account.name,
    userID: new Uint8Array(Buffer.from(account.handle, 'base64url')),
    attestationType: 'none',
    excludeCredentials: known.map(({ credential, transports }) => ({
      id: credential,
      transports: transports as AuthenticatorTransport[],
    })),
    authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
  });
  return { options, pass: await givePass('register', { accountId, data: { challenge: options.challenge } }) };
}

const refused = (title: string) => new Refusal(422, title);

/** Keeps the passkey that a browser made. */
export async function finishPasskey(
  accountId: number,
  { pass, name, response }: { pass: string; name: string; response: unknown },
  party: Party,
): Promise<Passkey> {
  const begun = await usePass(pass, 'register');
  if (!begun || begun.accountId !== accountId) throw new Refusal(409, 'This took too long. Begin once more.');
  const verified = await verifyRegistrationResponse({
    response: response as RegistrationResponseJSON,
    expectedChallenge: (begun.data as { challenge: string }).challenge,
    expectedOrigin: party.origin,
    expectedRPID: nameOf(party),
    requireUserVerification: true,
  }).catch(() => undefined);
  if (!verified?.verified) throw refused('This passkey cannot be taken: what the browser sent does not hold.');
  const { credential } = verified.registrationInfo;
  const row = {
    id: newId('pk'),
    accountId,
    credential: credential.id,
    publicKey: Buffer.from(credential.publicKey).toString('base64url'),
    counter: credential.counter,
    transports: credential.transports ?? [],
    name,
    created: new Date(),
    used: null,
  };
  if (await passkeyWith(row.credential)) throw new Refusal(409, 'This passkey is known already.');
  await insertPasskey(row);
  return { id: row.id, name, created: row.created.toISOString(), used: null };
}

export async function deletePasskey(accountId: number, id: string): Promise<void> {
  if (!(await deletePasskeyRow(accountId, id))) throw notFound('passkey with this id');
}

/** What a browser needs to sign in with a passkey, whosever it is (WebAuthn level 3, 5.5). */
export async function askPasskey(party: Party) {
  const options = await generateAuthenticationOptions({ rpID: nameOf(party), userVerification: 'required' });
  return { options, pass: await givePass('passkey', { data: { challenge: options.challenge } }) };
}

/** Whose passkey answered; a refusal that does not tell what was wrong otherwise. */
export async function passkeyAnswered(pass: string, response: unknown, party: Party): Promise<AccountRow> {
  const wrong = refused('This passkey does not let anybody in here.');
  const begun = await usePass(pass, 'passkey');
  const answered = response as Partial<AuthenticationResponseJSON> | null;
  if (!begun || typeof answered?.id !== 'string' || answered.id.length > 1400) throw wrong;
  const row = await passkeyWith(answered.id);
  if (!row) throw wrong;
  const verified = await verifyAuthenticationResponse({
    response: answered as AuthenticationResponseJSON,
    expectedChallenge: (begun.data as { challenge: string }).challenge,
    expectedOrigin: party.origin,
    expectedRPID: nameOf(party),
    requireUserVerification: true,
    credential: {
      id: row.credential,
      publicKey: new Uint8Array(Buffer.from(row.publicKey, 'base64url')),
      counter: Number(row.counter),
      transports: row.transports as AuthenticatorTransport[],
    },
  }).catch(() => undefined);
  const account = verified?.verified ? await accountRow({ id: row.accountId }) : undefined;
  if (!verified || !account || account.closed) throw wrong;
  const { newCounter } = verified.authenticationInfo;
  await notePasskeyUse(row.id, newCounter, new Date());
  return account;
}
