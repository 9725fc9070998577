import pino from 'pino';
import { perServer } from './server';

/**
 * What is told to whoever runs the application: lines of JSON in production, nothing but what went wrong else. Addresses
 * are told without their question, bodies and headers never, so that no secret is in it.
 */
export const log = perServer(({ logLevel, processes }) =>
  pino(
    {
      level: logLevel ?? 'warn',
      // Where several processes answer at one door, each says which one it is.
      base: processes > 1 ? { pid: process.pid } : undefined,
      timestamp: pino.stdTimeFunctions.isoTime,
      formatters: { level: (label) => ({ level: label }) },
    },
    // Whoever starts the demo sees what is written to standard error.
    pino.destination({ dest: logLevel ? 1 : 2, sync: true }),
  ),
);
