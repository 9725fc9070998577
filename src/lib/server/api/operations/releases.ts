import { readQuestion } from '../../../core/loops/visitors';
import { z } from 'zod';
import { notFound } from '../../refusal';
import { goBack, pendingChanges, readReleases, release, takeUp } from '../../services/releases';
import { defineWork } from '../../jobs/jobs';
import { affectedPages } from '../../site/affected';
import { listsLaidOut } from '../../site/lists-ahead';
import { answer } from '../../site/respond';
import { numberOf } from '../http';
import { at, operation, type Operation } from '../operation';
import { Pages, paged, wellFormed } from './common';

const releaseNumbered = async (id: string | undefined) => {
  const found = (await readReleases(100_000)).find((one) => one.id === numberOf(id ?? ''));
  if (!found) throw notFound('release with this number');
  return found;
};
const writes = { tag: 'Releases', who: 'designer', touches: 'site' } as const;
const PageAsked = z.object({
  address: z
    .string()
    .max(2000)
    .regex(/^\/(?!\/)/, { error: 'An address of this site begins with a slash.' }),
  state: z.enum(['released', 'draft']).default('released'),
});

/** `base` is the site's own style sheet. */
export function releases(base: string): Operation[] {
  const beginComparing = defineWork<null>('affected', {
    again: true,
    run: (_, __, progress) => affectedPages(progress, base),
  });
  return [
    operation({
      ...{ ...at('GET /releases/lists'), id: 'listsLaidOut', tag: 'Releases', who: 'reader' },
      summary: 'How far the lists of the release that visitors see are laid out',
      description:
        'Each process has what lists are answered from by itself, and lays it out after it has started and after a release, while everybody is answered. None is at it where `processes` is 0.',
      ...{ answers: 'LaidOut', status: 200 },
      run: () => listsLaidOut(),
    }),
    operation<Pages, undefined>({
      ...{
        ...at('GET /releases'),
        id: 'listReleases',
        tag: 'Releases',
        who: 'reader',
        summary: 'Releases, the newest first',
      },
      ...{ query: Pages, answers: 'Release', lists: true, status: 200 },
      run: async ({ query }) => paged(await readReleases(100_000), query),
    }),
    operation({
      ...{
        ...at('POST /releases'),
        id: 'release',
        did: 'Released everything that was designed',
        ...writes,
        summary: 'Releases everything that was designed',
      },
      ...{ body: 'NewRelease', checkedBy: 'service', answers: 'Release', status: 201, refuses: [409] },
      run: ({ body }) => release(body),
    }),
    operation({
      ...{ ...at('GET /releases/pending'), id: 'readPending', tag: 'Releases', who: 'reader' },
      ...{ summary: 'What has changed since the last release', answers: 'Anything', status: 200 },
      run: () => pendingChanges(),
    }),
    operation({
      ...{ ...at('POST /releases/affected'), id: 'findAffected', tag: 'Releases', who: 'designer' },
      ...{ summary: 'Begins to find the pages that a release would change', answers: 'Job', status: 202 },
      run: ({ who }) => beginComparing(null, who),
    }),
    operation({
      ...{
        ...at('GET /releases/{releaseId}'),
        id: 'readRelease',
        tag: 'Releases',
        who: 'reader',
        summary: 'One release',
      },
      ...{ answers: 'Release', status: 200 },
      run: ({ params }) => releaseNumbered(params.releaseId),
    }),
    operation({
      ...{
        ...at('POST /releases/{releaseId}/show'),
        id: 'showRelease',
        did: 'Had visitors see another release',
        ...writes,
        summary: 'Has visitors see this release',
      },
      ...{ answers: 'Release', status: 200, refuses: [409] },
      run: ({ params }) => goBack(numberOf(params.releaseId ?? '')),
    }),
    operation({
      ...{
        ...at('POST /releases/{releaseId}/take-up'),
        id: 'takeUpRelease',
        did: 'Took the design of a release up into the draft',
        ...writes,
        touches: 'design',
      },
      ...{ summary: 'Takes the design of a release up into the draft', status: 204 },
      run: ({ params }) => takeUp(numberOf(params.releaseId ?? '')),
    }),
    operation<z.infer<typeof PageAsked>, undefined>({
      ...{
        ...at('GET /pages'),
        id: 'drawPage',
        tag: 'Pages',
        who: 'reader',
        query: PageAsked,
        answers: 'Page',
        status: 200,
      },
      summary: 'A page as visitors see it, or as the draft has it',
      run: async ({ query: { address, state }, origin }) => {
        const url = new URL(address, origin);
        const asked = readQuestion(url.searchParams);
        const path = wellFormed(url.pathname, address);
        const { status, html, to } = await answer(path, { base, origin, which: state }, asked);
        return { address, state, status, html, ...(to && { to }) };
      },
    }),
  ];
}
