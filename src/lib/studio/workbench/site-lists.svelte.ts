import type { ArchiveOf, ArchivePlace } from '$lib/core/addresses/archives';
import type { CompiledLoop } from '$lib/core/loops/compiled';
import { testsOf, type ListStory } from '$lib/core/loops/evaluate';
import { isAsked, Tellings, type Told } from '$lib/core/loops/told';
import type { Env, Pool } from '$lib/core/paths/env';
import type { CompiledTree } from '$lib/core/render/compile';
import type { Template } from '$lib/core/schema/template';
import { send } from '../request';

/** The page on the canvas, as the site is asked about its lists. */
export interface CanvasAsked {
  template: Template;
  record?: number;
  archive?: ArchivePlace;
  held?: string[];
  story?: { loop: string; turns: Record<string, number> };
}

/** Templates are never changed in their place. */
const sameQuestion = ({ template: a, ...one }: CanvasAsked, { template: b, ...other }: CanvasAsked): boolean =>
  a === b && JSON.stringify(one) === JSON.stringify(other);

export interface SiteListsHost {
  /** Types of which only some records are here. */
  readonly partial: Readonly<Record<string, number>>;
  readonly compiled: CompiledTree;
  readonly template: Template;
  readonly preview: {
    readonly record: { id: number } | undefined;
    readonly archive: ArchiveOf | undefined;
    readonly page: number;
    readonly held: ReadonlySet<string>;
    readonly turns: Readonly<Record<string, number>>;
    /** Whether values are taken to be otherwise, of which the site knows nothing. */
    readonly isSupposing: boolean;
  };
  readonly selection: { readonly id: string };
  show?: () => void;
}

/**
 * Lists of types that have more records than are here: the site is asked for them, and until it has answered the canvas
 * goes over those at hand. Only one question is under way at a time; of those that come meanwhile the last is asked next.
 */
export class SiteLists {
  private tellings = $state.raw(new Tellings());
  /** Counts up when what was told is let go. */
  private times = $state(0);
  private answered: CanvasAsked | undefined = $state.raw();
  private next: CanvasAsked | undefined;
  private going = false;

  /** Whether any list of the template goes over records that are not all here. */
  private needed: boolean = $derived.by(() =>
    [...this.host.compiled.elements.values()].some(({ loop }) => loop && this.asks(loop)),
  );
  /** What the site is to be asked just now; undefined where everything is at hand, or something is supposed. */
  asked: CanvasAsked | undefined = $derived.by(() => {
    if (!this.needed || this.host.preview.isSupposing) return undefined;
    void this.times;
    const { template, preview, selection, compiled } = this.host;
    const { record, archive, page, held, turns } = preview;
    const story = compiled.elements.get(selection.id)?.loop;
    return {
      template,
      ...(template.purpose === 'archive'
        ? archive && { archive: { ...archive, page } }
        : template.purpose !== 'frame' && record && { record: record.id }),
      ...(held.size && { held: [...held] }),
      ...(story && this.asks(story) && { story: { loop: selection.id, turns: { ...turns } } }),
    };
  });
  /** Whether what the canvas shows of these lists is what the site has. */
  told: boolean = $derived.by(() => {
    const { asked, answered } = this;
    return asked !== undefined && answered !== undefined && sameQuestion(asked, answered);
  });

  constructor(private readonly host: SiteListsHost) {}

  private asks(loop: CompiledLoop): boolean {
    return isAsked(loop) && loop.scope.typeIds.some((id) => this.host.partial[id] !== undefined);
  }

  /** A pool that has what the site told, over one that has what is at hand. */
  over(pool: Pool): Pool {
    return this.needed && !this.host.preview.isSupposing ? this.tellings.over(pool, (loop) => this.asks(loop)) : pool;
  }

  /** How a list of the page comes about, as the site tells it; undefined where it was not asked or has not answered yet. */
  story(loop: CompiledLoop, env: Env): ListStory | undefined {
    const told = this.asks(loop) ? this.tellings.story(loop, env) : undefined;
    if (!told || this.host.preview.isSupposing) return undefined;
    const { removed, candidates, leftOut, found, total } = told;
    const tests = testsOf(loop).map((rule, i) => ({ rule, removed: removed[i] ?? 0 }));
    return { candidates, leftOut, tests, found, total };
  }

  /** Asks the site. Where it does not answer, the canvas goes on over what is at hand, and says so. */
  async ask(asked: CanvasAsked): Promise<void> {
    this.next = asked;
    if (this.going) return;
    this.going = true;
    try {
      while (this.next) {
        const now = this.next;
        this.next = undefined;
        const { times } = this;
        const told = await send<Told>('POST', '/api/v1/workbench/lists', now).catch(() => undefined);
        if (!told || times !== this.times) continue;
        this.tellings = this.tellings.with(told);
        this.answered = now;
        this.host.show?.();
      }
    } finally {
      this.going = false;
    }
  }

  /** Lets go of what was told: records or the model have changed. */
  forget(): void {
    this.tellings = new Tellings();
    this.answered = undefined;
    this.times++;
  }
}
