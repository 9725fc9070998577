import { readQuestion } from '../../../core/loops/visitors';
import { z } from 'zod';
import { notFound } from '../../base/refusal';
import { goBack, pendingChanges, readReleases, release, takeUp } from '../../services/releases';
import { defineJob } from '../../jobs/jobs';
import { affectedPages, type Affected } from '../../site/affected';
import { prewarmProgress } from '../../site/prewarm-lists';
import { answer } from '../../site/respond';
import { operation } from '../operation';
import { schemas } from '../schemas';
import { Pages, paged, wellFormed } from './common';

const releaseNumbered = async (id: number) => {
  const found = (await readReleases(100_000)).find((one) => one.id === id);
  if (!found) throw notFound('release with this number');
  return found;
};
const writes = { tag: 'Releases', requiredRole: 'designer', touches: 'site' } as const;
const PageAsked = z.object({
  address: z
    .string()
    .max(2000)
    .regex(/^\/(?!\/)/, { error: 'An address of this site begins with a slash.' }),
  state: z.enum(['released', 'draft']).default('released'),
});

/** `base` is the site's own style sheet. */
export function releases(base: string) {
  const comparing = defineJob<null, Affected>('affected', {
    again: true,
    run: (_, __, progress) => affectedPages(progress, base),
  });
  return [
    operation('GET /releases/lists', {
      id: 'listsLaidOut',
      tag: 'Releases',
      requiredRole: 'reader',
      summary: 'How far the lists of the release that visitors see are laid out',
      description:
        'Each process has what lists are answered from by itself, and lays it out after it has started and after a release, while everybody is answered. None is at it where `processes` is 0.',
      response: schemas.LaidOut,
      status: 200,
      run: () => prewarmProgress(),
    }),
    operation('GET /releases', {
      id: 'listReleases',
      tag: 'Releases',
      requiredRole: 'reader',
      summary: 'Releases, the newest first',
      query: Pages,
      response: schemas.Release,
      lists: true,
      status: 200,
      run: async ({ query }) => paged(await readReleases(100_000), query),
    }),
    operation('POST /releases', {
      id: 'release',
      activity: 'Released everything that was designed',
      ...writes,
      summary: 'Releases everything that was designed',
      body: schemas.NewRelease,
      example: { note: 'Opening times' },
      refusal: 'This cannot be released.',
      response: schemas.Release,
      status: 201,
      refuses: [409],
      run: ({ body }) => release(body),
    }),
    operation('GET /releases/pending', {
      id: 'readPending',
      tag: 'Releases',
      requiredRole: 'reader',
      summary: 'What has changed since the last release',
      response: schemas.Pending,
      status: 200,
      run: () => pendingChanges(),
    }),
    operation('POST /releases/affected', {
      id: 'findAffected',
      tag: 'Releases',
      requiredRole: 'designer',
      summary: 'Begins to find the pages that a release would change',
      response: schemas.AffectedJob,
      status: 202,
      job: comparing,
      run: ({ principal }) => comparing.start(null, principal),
    }),
    operation('GET /releases/{releaseId}', {
      id: 'readRelease',
      tag: 'Releases',
      requiredRole: 'reader',
      summary: 'One release',
      response: schemas.Release,
      status: 200,
      run: ({ params }) => releaseNumbered(params.releaseId),
    }),
    operation('POST /releases/{releaseId}/show', {
      id: 'showRelease',
      activity: 'Had visitors see another release',
      ...writes,
      summary: 'Has visitors see this release',
      response: schemas.Release,
      status: 200,
      refuses: [409],
      run: ({ params }) => goBack(params.releaseId),
    }),
    operation('POST /releases/{releaseId}/take-up', {
      id: 'takeUpRelease',
      activity: 'Took the design of a release up into the draft',
      ...writes,
      touches: 'design',
      summary: 'Takes the design of a release up into the draft',
      status: 204,
      run: ({ params }) => takeUp(params.releaseId),
    }),
    operation('GET /pages', {
      id: 'drawPage',
      tag: 'Pages',
      requiredRole: 'reader',
      query: PageAsked,
      response: schemas.Page,
      status: 200,
      summary: 'A page as visitors see it, or as the draft has it',
      run: async ({ query: { address, state }, origin }) => {
        const url = new URL(address, origin);
        const asked = readQuestion(url.searchParams);
        const path = wellFormed(url.pathname, address);
        const { status, html, to } = await answer(path, { base, origin, which: state }, asked);
        return { address, state, status, html, ...(to && { to }) };
      },
    }),
  ] as const;
}
