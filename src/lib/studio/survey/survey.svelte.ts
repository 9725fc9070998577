import type { Lack } from '$lib/core/checks/lacking';
import type { Coverage, Iterations } from '$lib/core/coverage/coverage';
import { differenceOf, type Difference } from '$lib/core/coverage/difference';
import type { Look } from '$lib/core/coverage/look';
import type { Theme } from '$lib/core/schema/theme';
import type { Tree } from '$lib/core/schema/element';
import type { ContentRecord, Media } from '$lib/core/schema/record';
import type { Model } from '$lib/core/schema/model';
import type { Template } from '$lib/core/schema/template';
import type { ServedPage } from '$lib/core/serving/answers';
import type { Serving } from '$lib/core/serving/resolution';
import type { Ask, Chosen, Head, SurveyReply, What } from './messages';

/** What is looked at: a template with the model and the records at hand. */
export interface Surveyed {
  readonly reads: number;
  readonly model: Model;
  readonly records: ContentRecord[];
  readonly media: Media[];
  readonly parts: Template[];
  readonly template: Template;
  readonly templates: Serving[];
  readonly holders: Template[];
  readonly preview: { readonly set: ServedPage['set'] };
  /** Types of which only some records are at hand. */
  readonly partial: Record<string, number>;
  /** The number up to which all records of a type are at hand. */
  fetchedUpTo(typeId: string): number;
  readonly theme: Pick<Theme, 'looks'>;
  /** The tree as it was when it was opened. */
  readonly opened: Tree;
  /** Whether pages of records are looked at, rather than archives or what is around pages. */
  readonly showsRecords: boolean;
  lookAt(head: Head, loop?: string): void;
}

/**
 * What is known of a template over many records. The work is done by a worker, begun with the first question; a new
 * question takes the place of the one that was asked before.
 */
export class Survey {
  coverage: Coverage | undefined = $state.raw();
  /** The coverage of the template as it was when it was opened, for what changed since. */
  before: Coverage | undefined = $state.raw();
  /** Of which records that is. */
  set: ServedPage['set'] = $state('answered');
  /** Of what is counted. */
  what: What = $state.raw({ is: 'pages' });
  heads: Map<number, Head> = $state.raw(new Map());
  /** What was drawn last, other than records, and of how many. */
  listed: { heads: Head[]; all: number } | undefined = $state.raw();
  looks: Map<number, Look> = $state.raw(new Map());
  /** The looks of elements, for the pages that were drawn. */
  css: string = $state('');
  /** Pages that lack something, for the template as it is. */
  lacking: Record<Lack, Head[]> = $state.raw({ bare: [], untitled: [] });
  /** How far the work is; undefined while there is none. */
  covering: { done: number; of: number } | undefined = $state.raw();
  drawing: { done: number; of: number } | undefined = $state.raw();
  fetched: number = $state(0);
  failed: string = $state('');
  /** Milliseconds that the last counting took. */
  took: number = $state(0);
  /** How many records the template answers, and how many there are of its types, counted where not all are on the screen. */
  answered: { answered: number; all: number } | undefined = $state.raw();
  private worker: Worker | undefined;
  private jobs = 0;
  private asked = { cover: 0, before: 0, draw: 0, judge: 0 };
  private ground: unknown[] = [];

  constructor(private readonly wb: Surveyed) {}

  private ask(message: Ask): void {
    this.worker?.postMessage(message);
  }

  /** Starts the worker, and tells it what has changed since it was told last; gives back whether anything has. */
  private prepare(): boolean {
    const { wb } = this;
    if (!this.worker) {
      this.worker = new Worker(new URL('./surveyor.worker.ts', import.meta.url), { type: 'module' });
      this.worker.onmessage = ({ data }: MessageEvent<SurveyReply>) => this.take(data);
      this.worker.onerror = () => (this.failed = 'The work over all records has stopped. Load the page again.');
    }
    const { id, name, purpose, serves, except, order } = wb.template;
    const now = [
      wb.reads,
      wb.model,
      wb.records,
      wb.media,
      wb.parts,
      wb.holders,
      serves,
      except,
      wb.preview.set,
      wb.theme.looks,
    ];
    if (now.every((one, i) => one === this.ground[i])) return false;
    this.ground = now;
    this.answered = undefined;
    this.before = undefined;
    this.asked.before = 0;
    this.ask({
      do: 'ground',
      ground: {
        model: wb.model,
        records: wb.records,
        media: wb.media,
        parts: wb.parts,
        reads: wb.reads,
        partial: Object.keys(wb.partial).map((typeId) => ({ typeId, after: wb.fetchedUpTo(typeId) })),
        looks: wb.theme.looks,
        template: { id, name, purpose, serves, except, order },
        templates: wb.templates,
        holders: wb.holders,
      },
    });
    return true;
  }

  /** Counts where everything appears, for the template as it is now; the first time also as it was when it was opened. */
  count(tree: Tree, also: string[], what: What = { is: 'pages' }): void {
    if (JSON.stringify(what) !== JSON.stringify(this.what)) {
      this.what = what;
      this.coverage = this.before = undefined;
      this.asked.before = 0;
      this.counted = undefined;
    }
    if (this.prepare()) this.counted = undefined;
    if (this.counted?.tree === tree && this.counted.also === also.join()) return;
    this.counted = { tree, also: also.join() };
    const { opened } = this.wb;
    if (!this.before && !this.asked.before) {
      this.asked.before = ++this.jobs;
      this.ask({
        do: 'cover',
        job: this.asked.before,
        tree: opened,
        also: Object.keys(opened.elements),
        set: this.wb.preview.set,
        what,
      });
      // Of one kind only the last is done: the other follows once this is.
      this.next = { tree, also, what };
      return;
    }
    if (!this.before) {
      this.next = { tree, also, what };
      return;
    }
    this.asked.cover = ++this.jobs;
    this.covering = { done: 0, of: 0 };
    this.ask({ do: 'cover', job: this.asked.cover, tree, also, set: this.wb.preview.set, what });
  }
  private counted: { tree: Tree; also: string } | undefined;
  private next: { tree: Tree; also: string[]; what: What } | undefined;

  private drawnOf = '';

  /** Draws the pages of these records, or the first `most` of anything else that is gone through. */
  draw(tree: Tree, given: { ids: number[] } | { what: What; most: number; choose?: Chosen }): void {
    this.prepare();
    this.asked.draw = ++this.jobs;
    const { set } = this.wb.preview;
    const job = this.asked.draw;
    const of = 'ids' in given || given.choose ? 'records' : JSON.stringify(given.what);
    if (of !== this.drawnOf) this.looks = new Map();
    this.drawnOf = of;
    if ('ids' in given) {
      const { ids } = given;
      this.drawing = { done: 0, of: ids.length };
      this.ask({ do: 'draw', job, tree, set, what: { is: 'pages' }, ids, most: ids.length });
    } else {
      this.drawing = { done: 0, of: 0 };
      this.ask({ do: 'draw', job, tree, set, ...given });
    }
  }

  /** Looks for pages that lack something; `titled` where a frame has the first heading. */
  judge(tree: Tree, titled: boolean): void {
    this.prepare();
    this.asked.judge = ++this.jobs;
    this.ask({ do: 'judge', job: this.asked.judge, tree, titled });
  }

  /** Leaves off whatever is under way. */
  cancel(): void {
    this.ask({ do: 'stop' });
    this.covering = this.drawing = undefined;
    this.asked.cover = this.asked.draw = -1;
    this.counted = undefined;
  }

  close(): void {
    this.worker?.terminate();
    this.worker = undefined;
    this.ground = [];
  }

  private take(told: SurveyReply): void {
    switch (told.told) {
      case 'failed':
        this.failed = told.why;
        this.covering = this.drawing = undefined;
        return;
      case 'fetching':
        this.fetched = told.done;
        return;
      case 'covering':
        if (told.job === this.asked.cover || told.job === this.asked.before)
          this.covering = { done: told.done, of: told.of };
        return;
      case 'covered':
        if (told.job === this.asked.before) {
          this.before = told.coverage;
          const { next } = this;
          this.next = undefined;
          this.counted = undefined;
          if (next) this.count(next.tree, next.also, next.what);
          return;
        }
        if (told.job !== this.asked.cover) return;
        this.coverage = told.coverage;
        this.set = told.set;
        this.heads = new Map(told.heads.map((head) => [head.id, head]));
        this.took = told.took;
        this.covering = undefined;
        return;
      case 'answered':
        this.answered = { answered: told.answered, all: told.all };
        return;
      case 'judged':
        if (told.job === this.asked.judge) this.lacking = told.lacking;
        return;
      case 'listed':
        if (told.job === this.asked.draw) this.listed = { heads: told.heads, all: told.all };
        return;
      case 'drawing': {
        if (told.job !== this.asked.draw) return;
        const looks = new Map(this.looks);
        for (const look of told.looks) looks.set(look.id, look);
        this.looks = looks;
        this.css = told.css;
        this.drawing = told.done < told.of ? { done: told.done, of: told.of } : undefined;
      }
    }
  }

  /** Puts one of what was counted on screen. */
  look(id: number): void {
    const head = this.heads.get(id);
    if (head) this.wb.lookAt(head, this.what.is === 'turns' ? this.what.loop : undefined);
  }

  /** How a section changed since the template was opened; undefined for one that is not counted, or was not there. */
  difference(id: string): Difference | undefined {
    const { before, coverage } = this;
    if (!before || !coverage || this.what.is !== 'pages') return undefined;
    // Pages of archives are numbered as they come: where there are others than there were, their numbers name others.
    if (!this.wb.showsRecords && before.ids.length !== coverage.ids.length) return undefined;
    return differenceOf(before, coverage, id);
  }

  /** How many records a section appears for, and of how many. */
  totalOf(id: string): { shown: number; of: number; turns?: Iterations } | undefined {
    const { coverage } = this;
    const at = coverage?.sections.findIndex((section) => section.id === id) ?? -1;
    return coverage && at >= 0
      ? { shown: coverage.totals[at] as number, of: coverage.ids.length, turns: coverage.turns[at] }
      : undefined;
  }
}
