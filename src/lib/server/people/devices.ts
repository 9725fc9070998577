import { deviceEnds, insertDevice } from '../queries/sessions';
import { hashOf, isSecret, newSecret } from './secrets';

/** How long a device is known after the account came in from it, in milliseconds. */
const KNOWN = 180 * 86_400_000;

/** Makes the device known from which an account has come in; gives the secret that it keeps, or undefined where it was known. */
export async function knowDevice(accountId: number, secret: string | undefined): Promise<string | undefined> {
  if (await isKnownDevice(accountId, secret)) return undefined;
  const fresh = newSecret();
  await insertDevice({ tokenHash: hashOf(fresh), accountId, ends: new Date(Date.now() + KNOWN) });
  return fresh;
}

/** Whether an account has come in from the device with this secret. */
export async function isKnownDevice(accountId: number, secret: string | undefined): Promise<boolean> {
  if (!isSecret(secret)) return false;
  const ends = await deviceEnds(hashOf(secret), accountId);
  return ends !== undefined && ends > new Date();
}
