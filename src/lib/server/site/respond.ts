import { placeOf } from '../../core/addresses/places';
import { questionOf, filterDescription } from '../../core/loops/visitors';
import { answerArchive } from './answer-archive';
import { answerRecord } from './answer-record';
import type { Inspection, Question } from './draw';
import { pageMoved } from './moved';
import { beginVisit, moved, type PageAnswer, type Surroundings } from './visit';

/** Answers one address of the site from what is published. `path` is decoded, `asked` its question. */
export function answer(path: string, surroundings: Surroundings, asked: Question = {}): Promise<PageAnswer> {
  return answerOrInspect(path, surroundings, asked);
}

/** The same page for its designer, with marks on its elements, and why each of them is there or not. */
export async function inspect(
  path: string,
  surroundings: Surroundings,
  asked: Question = {},
): Promise<PageAnswer & { inspection: Inspection }> {
  const inspection: Inspection = { elements: [] };
  return { ...(await answerOrInspect(path, surroundings, asked, inspection)), inspection };
}

async function answerOrInspect(
  path: string,
  surroundings: Surroundings,
  asked: Question,
  inspection?: Inspection,
): Promise<PageAnswer> {
  const visit = await beginVisit(surroundings, inspection);
  const { design, model } = visit;
  const place = placeOf(path, model, filterDescription('q', asked)[0] ?? '', design.former);
  switch (place.at) {
    case 'moved':
      return moved(place.to + questionOf(asked));
    case 'archive':
      return answerArchive(visit, { ...place.of, page: place.page }, asked);
    case 'record':
      return answerRecord(visit, path, place, asked);
    case 'nowhere': {
      const to = await pageMoved(path, model);
      return to ? moved(to + (to.includes('?') ? '' : questionOf(asked))) : visit.missing();
    }
  }
}
