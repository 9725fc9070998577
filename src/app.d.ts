import type { Who } from '$lib/server/access';

declare global {
  namespace App {
    interface Locals {
      who: Who;
    }
    interface Error {
      message: string;
    }
  }
}

export {};
