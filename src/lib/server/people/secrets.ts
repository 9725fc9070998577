import { createHash, randomBytes } from 'node:crypto';

/** A secret that nobody guesses: 32 random bytes, base64url. */
export const newSecret = (): string => randomBytes(32).toString('base64url');

/** What is kept of a secret: its SHA-256 in hexadecimal digits. Secrets of 256 bits need no slower hash. */
export const hashOf = (secret: string): string => createHash('sha256').update(secret).digest('hex');

/** Whether a text has the shape of a secret, so that nothing else is looked up. */
export const isSecret = (text: string | undefined | null): text is string => /^[\w-]{43}$/.test(text ?? '');
