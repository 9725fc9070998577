import type { ContentRecord, Media } from '$lib/core/schema/record';
import type { Lack } from '$lib/core/checks/lacking';
import type { Coverage } from '$lib/core/coverage/coverage';
import type { Look } from '$lib/core/coverage/look';
import type { ArchivePlace } from '$lib/core/addresses/archives';
import type { Model } from '$lib/core/schema/model';
import type { Template } from '$lib/core/schema/template';
import type { ServedPage } from '$lib/core/serving/answers';
import type { Serving } from '$lib/core/serving/resolution';
import type { NamedLook } from '$lib/core/schema/theme';
import type { Tree } from '$lib/core/schema/element';

/** What the surveyor is told once, and again whenever any of it changes. */
export interface SurveyContext {
  model: Model;
  records: ContentRecord[];
  media: Media[];
  parts: Template[];
  /** Another number whenever records were read anew: what was fetched before is none of these. */
  reads: number;
  /** Types of which not all records were sent; those after a number are fetched. */
  partial: { typeId: string; after: number }[];
  looks: NamedLook[];
  template: Serving;
  /** What each template of the site serves. */
  templates: Serving[];
  /** Of a part: the templates on whose pages it stands. */
  holders: Template[];
}

/** What is gone through: the pages that a template answers, the turns of one of its loops on these, or the places of a part. */
export type What = { is: 'pages' } | { is: 'turns'; loop: string } | { is: 'places' };

/** One of them, without what it is drawn from. */
export interface Head {
  id: number;
  title: string;
  draft?: boolean;
  recordId?: number;
  archive?: ArchivePlace;
  /** The place of the turn among those of its page, outermost loop first, from 0. */
  at?: number[];
}

/** `job` counts up; a later one of the same kind takes the place of the one before. */
/** Which of all pages of records are looked at, where not all records are on the screen. */
export interface Chosen {
  /** Under a term, or one below. */
  term?: string;
  /** Those with the longest titles first. */
  longest: boolean;
}

export type Ask =
  | { do: 'ground'; ground: SurveyContext }
  | { do: 'cover'; job: number; tree: Tree; also: string[]; set: ServedPage['set']; what: What }
  /** With `ids` these records alone; else the first `most` of what is gone through. */
  | {
      do: 'draw';
      job: number;
      tree: Tree;
      set: ServedPage['set'];
      what: What;
      ids?: number[];
      most: number;
      choose?: Chosen;
    }
  /** Asks for pages that lack something; `titled` where a frame has the first heading. */
  | { do: 'judge'; job: number; tree: Tree; titled: boolean }
  | { do: 'stop' };

export type SurveyReply =
  | { told: 'fetching'; done: number }
  | { told: 'failed'; why: string }
  | { told: 'covering'; job: number; done: number; of: number }
  | { told: 'covered'; job: number; coverage: Coverage; set: ServedPage['set']; heads: Head[]; took: number }
  /** Once all records are there, where not all were sent: how many it answers, and how many there are of its types. */
  | { told: 'answered'; answered: number; all: number }
  | { told: 'judged'; job: number; lacking: Record<Lack, Head[]> }
  | { told: 'listed'; job: number; heads: Head[]; all: number }
  | { told: 'drawing'; job: number; looks: Look[]; done: number; of: number; css: string };
