import { channel } from 'node:diagnostics_channel';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Server } from '../base/server';
import { stopJobs, wakeWorkerBy } from '../jobs/jobs';
import { answerVisitor } from '../site/visitors';
import { lookForJobs, startClocks } from './clocks';

/** What the program that started the application asks of it; see scripts/lib/answer.mjs and work.mjs. */
export interface Application {
  /** Answers visitors who ask for pages, before the router is asked. False where the router is to answer. */
  answerVisitor(request: IncomingMessage, response: ServerResponse): boolean | Promise<boolean>;
  /** Takes long work that waits. */
  lookForJobs(): void;
  /** Says how the process that does long work is told that there is some. */
  wakeWorkerBy(wake: () => void): void;
  /** Hands on what is worked on, and closes the server. */
  stop(): Promise<void>;
}

/** The channel by which an application that has started makes itself known (`node:diagnostics_channel`). */
export const CHANNEL = 'plum-thread:application';

/** Starts the clocks of a server whose database is ready, and makes it known to the program around it. */
export function startApplication(server: Server): Application {
  const stopClocks = server.run(startClocks);
  const application: Application = {
    answerVisitor: (request, response) => server.run(() => answerVisitor(request, response)),
    lookForJobs: () => void server.run(lookForJobs),
    wakeWorkerBy: (wake) => server.run(() => wakeWorkerBy(wake)),
    stop: () =>
      server.run(async () => {
        stopClocks();
        await stopJobs().catch(() => undefined);
        void server.close();
      }),
  };
  channel(CHANNEL).publish(application);
  return application;
}
