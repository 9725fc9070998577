import type { Principal } from '$lib/server/people/principal';

declare global {
  namespace App {
    interface Locals {
      /** Who is signed in; asked for the studio and the API alone. */
      who?: Principal;
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
