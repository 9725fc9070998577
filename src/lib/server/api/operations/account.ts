import { Refusal } from '../../base/refusal';
import { accountNumbered, changeAccount, endOtherAccess, setPassword, publicAccount } from '../../people/accounts';
import { askAddress, letKnow } from '../../people/links';
import { beginPasskey, deletePasskey, finishPasskey, readPasskeys } from '../../people/passkeys';
import { passwordFits } from '../../people/passwords';
import { beginCodes, endCodes, finishCodes, newRecoveryCodes, recoveryCodesLeft } from '../../people/second-factor';
import { confirmSession, endSession, endSessions, sessionsOf } from '../../people/sessions';
import { clearAttempts, throttle } from '../../people/throttle';
import { createToken, deleteToken, readTokens } from '../../people/tokens';
import { operation, type AnyOperation } from '../operation';
import { type Principal } from '../../people/principal';
import { schemas } from '../schemas';
import { mayAsk } from '../permission';

const own = { tag: 'Account', requiredRole: 'reader', person: true } as const;
const changes = { ...own, touches: 'people' } as const;
/** What lets somebody in is changed only by those who proved lately who they are. */
const guarded = { ...changes, fresh: true } as const;

/** Refuses a password that is not the account's, and counts the tries. */
async function provePassword(principal: Principal, password: string): Promise<void> {
  await throttle('account', `confirm ${principal.id}`);
  const { password: hash } = await accountNumbered(principal.id);
  if (!(await passwordFits(hash, password)))
    throw new Refusal(422, 'This is not your password.', [{ at: 'current', what: 'It is another one.' }]);
  await clearAttempts(`confirm ${principal.id}`);
}

/** One's own account. `all` are all operations, of which `readMe` tells the ones that one may ask for. */
export const account = (all: () => readonly AnyOperation[]) =>
  [
    operation('GET /account', {
      id: 'readMe',
      ...own,
      summary: 'Who is signed in, and what they may do',
      response: schemas.Me,
      status: 200,
      run: async ({ principal }) => ({
        account: publicAccount(await accountNumbered(principal.id)),
        may: all()
          .filter((one) => mayAsk(one, principal))
          .map(({ id }) => id),
        fresh: principal.fresh ?? false,
      }),
    }),
    operation('PATCH /account', {
      id: 'changeMe',
      ...guarded,
      summary: 'One’s own name and address',
      activity: 'Changed name or address of the own account',
      body: schemas.MeChange,
      example: { name: 'Ada Ash' },
      response: schemas.MeChanged,
      status: 200,
      refuses: [409],
      description:
        'Another address counts only once the link that is sent to it was opened: until then it is answered as `pendingEmail`.',
      run: async ({ principal, body: { name, email }, origin }) => {
        const before = await accountNumbered(principal.id);
        const moves = email !== undefined && email !== before.email;
        if (moves) {
          await askAddress(before, email, origin);
          letKnow(
            before,
            `Somebody principal is signed in wants to sign in with ${email} from now on; a link was sent there.`,
          );
        }
        const account = name === undefined ? publicAccount(before) : await changeAccount(principal.id, { name });
        return { ...account, ...(moves && { pendingEmail: email }) };
      },
    }),
    operation('POST /account/confirm', {
      id: 'confirmMe',
      ...changes,
      summary: 'Shows once more that it is oneself',
      body: schemas.ConfirmRequest,
      example: { password: 'seven soups at noon' },
      status: 204,
      refuses: [429],
      run: async ({ principal, body }) => {
        await provePassword(principal, body.password);
        await confirmSession(principal.session ?? '');
      },
    }),
    operation('PUT /account/password', {
      id: 'changePassword',
      ...changes,
      summary: 'Another password',
      activity: 'Changed the own password',
      body: schemas.PasswordChange,
      example: { current: 'seven soups at noon', password: 'nine walks before dusk' },
      status: 204,
      refuses: [429],
      description:
        'The one of before is given too, where there is one; all other sessions end, and tokens for programs unless `keepTokens` is true.',
      run: async ({ principal, body: { current, password, keepTokens = false } }) => {
        const { password: hash } = await accountNumbered(principal.id);
        if (hash !== null) await provePassword(principal, current ?? '');
        else if (!principal.fresh) throw new Refusal(403, 'Show once more that it is you.', [], { confirm: true });
        await setPassword(principal.id, password, { but: principal.session, tokens: !keepTokens });
        await confirmSession(principal.session ?? '');
        letKnow(await accountNumbered(principal.id), 'You have another password.');
      },
    }),
    operation('GET /account/passkeys', {
      id: 'listPasskeys',
      ...own,
      summary: 'One’s passkeys',
      response: schemas.Passkeys,
      status: 200,
      run: ({ principal }) => readPasskeys(principal.id),
    }),
    operation('POST /account/passkeys/begin', {
      id: 'beginPasskey',
      ...guarded,
      summary: 'What a browser needs to make one',
      response: schemas.BegunPasskey,
      status: 200,
      refuses: [409],
      run: ({ principal, origin }) => beginPasskey(principal.id, { origin }),
    }),
    operation('POST /account/passkeys', {
      id: 'createPasskey',
      ...guarded,
      summary: 'Keeps a passkey',
      activity: 'Made a passkey',
      body: schemas.NewPasskey,
      example: { pass: 'as it was begun', name: 'Telephone', response: {} },
      response: schemas.Passkey,
      status: 201,
      refuses: [409],
      run: async ({ principal, body, origin }) => {
        const passkey = await finishPasskey(principal.id, body, { origin });
        await endOtherAccess(principal.id, { but: principal.session });
        letKnow(await accountNumbered(principal.id), `The passkey “${passkey.name}” signs you in from now on.`);
        return passkey;
      },
    }),
    operation('DELETE /account/passkeys/{passkeyId}', {
      id: 'deletePasskey',
      ...guarded,
      summary: 'Takes a passkey away',
      activity: 'Took a passkey away',
      status: 204,
      run: async ({ principal, params }) => {
        await deletePasskey(principal.id, params.passkeyId);
        await endOtherAccess(principal.id, { but: principal.session });
      },
    }),
    operation('GET /account/codes', {
      id: 'readCodes',
      ...own,
      summary: 'Whether codes are asked for',
      response: schemas.CodesLeft,
      status: 200,
      run: async ({ principal }) => ({
        inUse: (await accountNumbered(principal.id)).codeSecret !== null,
        recovery: await recoveryCodesLeft(principal.id),
      }),
    }),
    operation('POST /account/codes/begin', {
      id: 'beginCodes',
      ...guarded,
      summary: 'A secret for a program for codes',
      response: schemas.BegunCodes,
      status: 200,
      run: ({ principal }) => beginCodes(principal.id),
    }),
    operation('POST /account/codes', {
      id: 'startCodes',
      ...guarded,
      summary: 'Takes codes into use',
      activity: 'Took codes as a second factor into use',
      body: schemas.CodesRequest,
      example: { pass: 'as it was begun', code: '287082' },
      response: schemas.RecoveryCodes,
      status: 201,
      refuses: [409],
      run: async ({ principal, body }) => {
        const done = await finishCodes(principal.id, body.pass, body.code);
        await endOtherAccess(principal.id, { but: principal.session });
        letKnow(await accountNumbered(principal.id), 'A code is asked for after your password from now on.');
        return done;
      },
    }),
    operation('POST /account/codes/recovery', {
      id: 'renewRecovery',
      ...guarded,
      summary: 'Ten new recovery codes',
      activity: 'Made new recovery codes',
      response: schemas.RecoveryCodes,
      status: 201,
      refuses: [409],
      run: async ({ principal }) => {
        if ((await accountNumbered(principal.id)).codeSecret === null)
          throw new Refusal(409, 'Take codes into use first.');
        return { recovery: await newRecoveryCodes(principal.id) };
      },
    }),
    operation('DELETE /account/codes', {
      id: 'endCodes',
      ...guarded,
      summary: 'No codes any more',
      activity: 'Ended codes as a second factor',
      status: 204,
      run: async ({ principal }) => {
        await endCodes(principal.id);
        await endOtherAccess(principal.id, { but: principal.session });
        letKnow(await accountNumbered(principal.id), 'No code is asked for after your password any more.');
      },
    }),
    operation('GET /account/sessions', {
      id: 'listSessions',
      ...own,
      summary: 'Where one is signed in',
      response: schemas.Sessions,
      status: 200,
      run: ({ principal }) => sessionsOf(principal.id, principal.session ?? ''),
    }),
    operation('DELETE /account/sessions', {
      id: 'endOtherSessions',
      ...changes,
      summary: 'Signs out everywhere else',
      activity: 'Signed out everywhere else',
      status: 204,
      run: ({ principal }) => endSessions(principal.id, principal.session),
    }),
    operation('DELETE /account/sessions/{sessionId}', {
      id: 'endSession',
      ...changes,
      summary: 'Signs out one session',
      status: 204,
      run: ({ principal, params }) => endSession(principal.id, params.sessionId),
    }),
    operation('GET /account/tokens', {
      id: 'listTokens',
      ...own,
      summary: 'One’s tokens for programs',
      response: schemas.Tokens,
      status: 200,
      run: ({ principal }) => readTokens(principal.id),
    }),
    operation('POST /account/tokens', {
      id: 'createToken',
      ...guarded,
      summary: 'A token for a program',
      activity: 'Made the token “{name}”',
      body: schemas.NewToken,
      example: { name: 'Nightly import', scopes: ['Records'], days: 90 },
      response: schemas.MadeToken,
      status: 201,
      refuses: [409],
      run: ({ principal, body }) => createToken(principal.id, body, tokenGroups(all())),
    }),
    operation('DELETE /account/tokens/{tokenId}', {
      id: 'deleteToken',
      ...changes,
      summary: 'Ends a token',
      activity: 'Ended a token',
      status: 204,
      run: ({ principal, params }) => deleteToken(params.tokenId, principal.id),
    }),
  ] as const;

/** Groups of operations that a token may be for. */
export const tokenGroups = (all: readonly AnyOperation[]): string[] =>
  [...new Set(all.filter((one) => !one.person).map(({ tag }) => tag))] as const;
