import { mkdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import { newId } from '$lib/core/base/ids';
import { problemsOf } from '$lib/core/base/result';
import { bodyOf, respond } from '$lib/server/api';
import { startJob } from '$lib/server/exchange/jobs';
import { Refusal } from '$lib/server/refusal';
import { EXPORTS, exportSite, siteAddress } from '$lib/server/site/export';
import base from '$lib/site/site.css?inline';
import type { RequestHandler } from './$types';

const Wanted = z.strictObject({ origin: z.string().max(500).default('') });
/** How long a zip can be taken home, in milliseconds. */
const KEPT = 3_600_000;

/** Begins to write the released site as a zip of files. */
export const POST: RequestHandler = ({ request, url }) =>
  respond(async () => {
    const parsed = Wanted.safeParse(await bodyOf(request));
    if (!parsed.success) throw new Refusal(422, 'The site cannot be exported so.', problemsOf(parsed.error));
    const site = siteAddress(parsed.data.origin);
    const folder = join(tmpdir(), EXPORTS);
    await mkdir(folder, { recursive: true });
    const file = `${newId('site')}.zip`;
    const path = join(folder, file);
    return startJob(async (progress) => {
      const made = await exportSite(
        {
          path,
          base,
          site,
          async other(address) {
            // What is built with the application, and the stand-in players, are asked of the application itself.
            const answer = await globalThis.fetch(new URL(address, url.origin));
            if (!answer.ok) return undefined;
            const page = answer.headers.get('content-type')?.startsWith('text/html');
            return { bytes: new Uint8Array(await answer.arrayBuffer()), ...(page && { ending: '.html' }) };
          },
        },
        progress,
      );
      setTimeout(() => void rm(path, { force: true }), KEPT).unref();
      return made && { file, ...made };
    });
  }, 202);
