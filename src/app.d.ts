import type { Who } from '$lib/server/access';

declare global {
  namespace App {
    interface Locals {
      who: Who;
      /** Names this request in logs, and to whoever asks what went wrong. */
      requestId: string;
    }
    interface Error {
      message: string;
      /** The request that failed, as the logs name it. */
      requestId?: string;
    }
  }
}

export {};
