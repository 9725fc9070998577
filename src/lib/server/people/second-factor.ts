import { randomInt } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import { inTransaction } from '../database/connect';
import {
  countRecoveryCodes,
  deleteRecoveryCodes,
  replaceRecoveryCodes,
  takeRecoveryCode,
  updateAccount,
} from '../queries/accounts';
import { useCodeStep } from '../queries/people';
import { Refusal } from '../base/refusal';
import { accountNumbered } from './accounts';
import { givePass, usePass } from './passes';
import { hashOf } from './secrets';

/** Seconds of a step, and digits: what every program for codes takes (RFC 6238, 4 and 5.3). */
const STEP = 30;
const DIGITS = 6;
const HOW_MANY = 10;

const totp = (secret: string, label = '') =>
  new TOTP({
    issuer: 'Plum Thread',
    label,
    algorithm: 'SHA1',
    digits: DIGITS,
    period: STEP,
    secret: Secret.fromBase32(secret),
  });

/** The step that a code is of, one before or after now at most (RFC 6238, 5.2); undefined where it fits none. */
export function stepOf(code: string, secret: string, now = Date.now()): number | undefined {
  const delta = totp(secret).validate({ token: code, timestamp: now, window: 1 });
  return delta === null ? undefined : Math.floor(now / 1000 / STEP) + delta;
}

/** A secret to be taken into a program for codes, with the address that it reads. It counts once a code of it was given. */
export async function beginCodes(accountId: number): Promise<{ pass: string; secret: string; address: string }> {
  const { email } = await accountNumbered(accountId);
  const secret = new Secret({ size: 20 }).base32;
  return {
    pass: await givePass('code', { accountId, data: { secret } }),
    secret,
    address: totp(secret, email).toString(),
  };
}

/** Words for when the program is lost: ten codes of ten letters and digits that are not mistaken for each other. */
const SIGNS = '23456789abcdefghjkmnpqrstuvwxyz';
const recoveryCode = () => {
  const signs = Array.from({ length: 10 }, () => SIGNS[randomInt(SIGNS.length)]).join('');
  return `${signs.slice(0, 5)}-${signs.slice(5)}`;
};
const settled = (code: string) => code.toLowerCase().replace(/[^a-z0-9]/g, '');
const codeHash = (accountId: number, code: string) => hashOf(`${accountId} ${settled(code)}`);

/** Takes codes into use, and gives the recovery codes, which are told this once. */
export async function finishCodes(accountId: number, pass: string, code: string): Promise<{ recovery: string[] }> {
  const begun = await usePass(pass, 'code');
  const secret = (begun?.data as { secret?: string } | undefined)?.secret;
  if (!begun || begun.accountId !== accountId || !secret)
    throw new Refusal(409, 'This took too long. Begin once more; the code on your screen is then another one.');
  const step = stepOf(code.replace(/\s/g, ''), secret);
  if (step === undefined)
    throw new Refusal(422, 'This code does not fit.', [
      {
        at: 'code',
        what: 'It is not the one of this moment.',
        fix: 'Begin once more, and see that your clock is right.',
      },
    ]);
  await updateAccount(accountId, { codeSecret: secret, codeStep: step });
  return { recovery: await newRecoveryCodes(accountId) };
}

/** Ten recovery codes in the place of those from before. */
export async function newRecoveryCodes(accountId: number): Promise<string[]> {
  const codes = Array.from({ length: HOW_MANY }, recoveryCode);
  await inTransaction(
    (transaction) =>
      replaceRecoveryCodes(
        accountId,
        codes.map((code) => codeHash(accountId, code)),
        transaction,
      ),
    { writes: 'nothing' },
  );
  return codes;
}

export const recoveryCodesLeft = (accountId: number): Promise<number> => countRecoveryCodes(accountId);

export async function endCodes(accountId: number): Promise<void> {
  await updateAccount(accountId, { codeSecret: null, codeStep: null });
  await deleteRecoveryCodes(accountId);
}

/** Whether a code of the program, or a recovery code, lets an account in; each does once. */
export async function codeFits(accountId: number, code: string): Promise<boolean> {
  const { codeSecret } = await accountNumbered(accountId);
  if (!codeSecret || code.length > 40) return false;
  const digits = code.replace(/\s/g, '');
  if (/^\d{6}$/.test(digits)) {
    const step = stepOf(digits, codeSecret);
    return (
      step !== undefined &&
      inTransaction((transaction) => useCodeStep(accountId, step, transaction), { writes: 'nothing' })
    );
  }
  return takeRecoveryCode(accountId, codeHash(accountId, code));
}
