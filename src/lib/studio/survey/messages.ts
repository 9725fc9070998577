import type { ContentRecord, Media } from '$lib/core/schema/record';
import type { Coverage } from '$lib/core/coverage/coverage';
import type { Look } from '$lib/core/coverage/look';
import type { Model } from '$lib/core/schema/model';
import type { Template } from '$lib/core/schema/template';
import type { Answered } from '$lib/core/serving/answers';
import type { Serving } from '$lib/core/serving/contest';
import type { Tree } from '$lib/core/schema/element';

/** What the surveyor is told once, and again whenever any of it changes. */
export interface SurveyGround {
  model: Model;
  records: ContentRecord[];
  media: Media[];
  parts: Template[];
  /** Types of which not all records were sent; the rest is fetched. */
  partial: string[];
  template: Serving;
  /** What each template of the site serves. */
  templates: Serving[];
}

/** `job` counts up; a later one of the same kind takes the place of the one before. */
export type Ask =
  | { do: 'ground'; ground: SurveyGround }
  | { do: 'cover'; job: number; tree: Tree; also: string[]; set: Answered['set'] }
  | { do: 'draw'; job: number; tree: Tree; ids: number[] }
  | { do: 'stop' };

export type Told =
  | { told: 'fetching'; done: number }
  | { told: 'failed'; why: string }
  | { told: 'covering'; job: number; done: number; of: number }
  | { told: 'covered'; job: number; coverage: Coverage; set: Answered['set']; titles: [number, string][]; took: number }
  | { told: 'drawing'; job: number; looks: Look[]; done: number; of: number; css: string };
