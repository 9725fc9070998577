import type { z } from 'zod';
import { Refusal } from '../../refusal';
import { accountNumbered, changeAccount, endOtherAccess, setPassword, told } from '../../people/accounts';
import { askAddress, letKnow } from '../../people/links';
import { beginPasskey, deletePasskey, finishPasskey, readPasskeys } from '../../people/passkeys';
import { passwordFits } from '../../people/passwords';
import { beginCodes, endCodes, finishCodes, newRecoveryCodes, recoveryCodesLeft } from '../../people/second-factor';
import { confirmSession, endSession, endSessions, sessionsOf } from '../../people/sessions';
import { forgiven, throttle } from '../../people/throttle';
import { createToken, deleteToken, readTokens, type NewToken } from '../../people/tokens';
import { at, operation, type Asker, type Operation } from '../operation';
import { mayAsk } from '../permission';

const own = { tag: 'Account', who: 'reader', person: true } as const;
const changes = { ...own, touches: 'people' } as const;
/** What lets somebody in is changed only by those who proved lately who they are. */
const guarded = { ...changes, fresh: true } as const;

/** Refuses a password that is not the account's, and counts the tries. */
async function provePassword(who: Asker, password: string): Promise<void> {
  await throttle('account', `confirm ${who.id}`);
  const { password: kept } = await accountNumbered(who.id);
  if (!(await passwordFits(kept, password)))
    throw new Refusal(422, 'This is not your password.', [{ at: 'current', what: 'It is another one.' }]);
  await forgiven(`confirm ${who.id}`);
}

/** One's own account. `all` are all operations, of which `readMe` tells the ones that one may ask for. */
export const account = (all: () => readonly Operation[]): Operation[] => [
  operation({
    ...{ ...at('GET /account'), id: 'readMe', ...own, summary: 'Who is signed in, and what they may do' },
    ...{ answers: 'Me', status: 200 },
    run: async ({ who }) => ({
      account: told(await accountNumbered(who.id)),
      may: all()
        .filter((one) => mayAsk(one, who))
        .map(({ id }) => id),
      fresh: who.fresh ?? false,
    }),
  }),
  operation<never, { name?: string; email?: string }>({
    ...{ ...at('PATCH /account'), id: 'changeMe', ...guarded, summary: 'One’s own name and address' },
    ...{ did: 'Changed name or address of the own account', body: 'MeChange', answers: 'MeChanged', status: 200 },
    refuses: [409],
    description:
      'Another address counts only once the link that is sent to it was opened: until then it is answered as `pendingEmail`.',
    run: async ({ who, body: { name, email }, origin }) => {
      const before = await accountNumbered(who.id);
      const moves = email !== undefined && email !== before.email;
      if (moves) {
        await askAddress(before, email, origin);
        letKnow(before, `Somebody who is signed in wants to sign in with ${email} from now on; a link was sent there.`);
      }
      const account = name === undefined ? told(before) : await changeAccount(who.id, { name });
      return { ...account, ...(moves && { pendingEmail: email }) };
    },
  }),
  operation<never, { password: string }>({
    ...{ ...at('POST /account/confirm'), id: 'confirmMe', ...changes, summary: 'Shows once more that it is oneself' },
    ...{ body: 'ConfirmAsked', status: 204, refuses: [429] },
    run: async ({ who, body }) => {
      await provePassword(who, body.password);
      await confirmSession(who.session ?? '');
    },
  }),
  operation<never, { current?: string; password: string; keepTokens?: boolean }>({
    ...{ ...at('PUT /account/password'), id: 'changePassword', ...changes, summary: 'Another password' },
    ...{ did: 'Changed the own password', body: 'PasswordChange', status: 204, refuses: [429] },
    description:
      'The one of before is given too, where there is one; all other sessions end, and tokens for programs unless `keepTokens` is true.',
    run: async ({ who, body: { current, password, keepTokens = false } }) => {
      const { password: kept } = await accountNumbered(who.id);
      if (kept !== null) await provePassword(who, current ?? '');
      else if (!who.fresh) throw new Refusal(403, 'Show once more that it is you.', [], { confirm: true });
      await setPassword(who.id, password, { but: who.session, tokens: !keepTokens });
      await confirmSession(who.session ?? '');
      letKnow(await accountNumbered(who.id), 'You have another password.');
    },
  }),
  operation({
    ...{ ...at('GET /account/passkeys'), id: 'listPasskeys', ...own, summary: 'One’s passkeys' },
    ...{ answers: 'Passkeys', status: 200 },
    run: ({ who }) => readPasskeys(who.id),
  }),
  operation({
    ...{
      ...at('POST /account/passkeys/begin'),
      id: 'beginPasskey',
      ...guarded,
      summary: 'What a browser needs to make one',
    },
    ...{ answers: 'Begun', status: 200, refuses: [409] },
    run: ({ who, origin }) => beginPasskey(who.id, { origin }),
  }),
  operation<never, { pass: string; name: string; response: unknown }>({
    ...{ ...at('POST /account/passkeys'), id: 'createPasskey', ...guarded, summary: 'Keeps a passkey' },
    ...{ did: 'Made a passkey', body: 'NewPasskey', answers: 'Passkey', status: 201, refuses: [409] },
    run: async ({ who, body, origin }) => {
      const made = await finishPasskey(who.id, body, { origin });
      await endOtherAccess(who.id, { but: who.session });
      letKnow(await accountNumbered(who.id), `The passkey “${made.name}” signs you in from now on.`);
      return made;
    },
  }),
  operation({
    ...{
      ...at('DELETE /account/passkeys/{passkeyId}'),
      id: 'deletePasskey',
      ...guarded,
      summary: 'Takes a passkey away',
    },
    ...{ did: 'Took a passkey away', status: 204 },
    run: async ({ who, params }) => {
      await deletePasskey(who.id, params.passkeyId ?? '');
      await endOtherAccess(who.id, { but: who.session });
    },
  }),
  operation({
    ...{ ...at('GET /account/codes'), id: 'readCodes', ...own, summary: 'Whether codes are asked for' },
    ...{ answers: 'CodesLeft', status: 200 },
    run: async ({ who }) => ({
      inUse: (await accountNumbered(who.id)).codeSecret !== null,
      recovery: await recoveryCodesLeft(who.id),
    }),
  }),
  operation({
    ...{
      ...at('POST /account/codes/begin'),
      id: 'beginCodes',
      ...guarded,
      summary: 'A secret for a program for codes',
    },
    ...{ answers: 'Begun', status: 200 },
    run: ({ who }) => beginCodes(who.id),
  }),
  operation<never, { pass: string; code: string }>({
    ...{ ...at('POST /account/codes'), id: 'startCodes', ...guarded, summary: 'Takes codes into use' },
    ...{ did: 'Took codes as a second factor into use', body: 'CodesAsked', answers: 'RecoveryCodes', status: 201 },
    refuses: [409],
    run: async ({ who, body }) => {
      const done = await finishCodes(who.id, body.pass, body.code);
      await endOtherAccess(who.id, { but: who.session });
      letKnow(await accountNumbered(who.id), 'A code is asked for after your password from now on.');
      return done;
    },
  }),
  operation({
    ...{ ...at('POST /account/codes/recovery'), id: 'renewRecovery', ...guarded, summary: 'Ten new recovery codes' },
    ...{ did: 'Made new recovery codes', answers: 'RecoveryCodes', status: 201, refuses: [409] },
    run: async ({ who }) => {
      if ((await accountNumbered(who.id)).codeSecret === null) throw new Refusal(409, 'Take codes into use first.');
      return { recovery: await newRecoveryCodes(who.id) };
    },
  }),
  operation({
    ...{ ...at('DELETE /account/codes'), id: 'endCodes', ...guarded, summary: 'No codes any more' },
    ...{ did: 'Ended codes as a second factor', status: 204 },
    run: async ({ who }) => {
      await endCodes(who.id);
      await endOtherAccess(who.id, { but: who.session });
      letKnow(await accountNumbered(who.id), 'No code is asked for after your password any more.');
    },
  }),
  operation({
    ...{ ...at('GET /account/sessions'), id: 'listSessions', ...own, summary: 'Where one is signed in' },
    ...{ answers: 'Sessions', status: 200 },
    run: ({ who }) => sessionsOf(who.id, who.session ?? ''),
  }),
  operation({
    ...{ ...at('DELETE /account/sessions'), id: 'endOtherSessions', ...changes, summary: 'Signs out everywhere else' },
    ...{ did: 'Signed out everywhere else', status: 204 },
    run: ({ who }) => endSessions(who.id, who.session),
  }),
  operation({
    ...{
      ...at('DELETE /account/sessions/{sessionId}'),
      id: 'endSession',
      ...changes,
      summary: 'Signs out one session',
    },
    ...{ status: 204 },
    run: ({ who, params }) => endSession(who.id, params.sessionId ?? ''),
  }),
  operation({
    ...{ ...at('GET /account/tokens'), id: 'listTokens', ...own, summary: 'One’s tokens for programs' },
    ...{ answers: 'Tokens', status: 200 },
    run: ({ who }) => readTokens(who.id),
  }),
  operation<never, z.infer<typeof NewToken>>({
    ...{ ...at('POST /account/tokens'), id: 'createToken', ...guarded, summary: 'A token for a program' },
    ...{ did: 'Made the token “{name}”', body: 'NewToken', answers: 'MadeToken', status: 201, refuses: [409] },
    run: ({ who, body }) => createToken(who.id, body, tokenGroups(all())),
  }),
  operation({
    ...{ ...at('DELETE /account/tokens/{tokenId}'), id: 'deleteToken', ...changes, summary: 'Ends a token' },
    ...{ did: 'Ended a token', status: 204 },
    run: ({ who, params }) => deleteToken(params.tokenId ?? '', who.id),
  }),
];

/** Groups of operations that a token may be for. */
export const tokenGroups = (all: readonly Operation[]): string[] => [
  ...new Set(all.filter((one) => !one.person).map(({ tag }) => tag)),
];
