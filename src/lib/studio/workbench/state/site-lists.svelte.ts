import type { ArchiveOf, ArchivePlace } from '$lib/core/addresses/archives';
import type { CompiledLoop } from '$lib/core/loops/compiled';
import { testsOf, type ListStory } from '$lib/core/loops/evaluate';
import { isAnsweredByServer, Tellings } from '$lib/core/loops/loop-report';
import type { Env, Pool } from '$lib/core/paths/env';
import type { CompiledTree } from '$lib/core/render/compile';
import type { Template } from '$lib/core/schema/template';
import type { Api } from '$lib/client/api';
import { api as studioApi } from '../../base/api';

/** The page on the canvas, as the site is asked about its lists. */
export interface CanvasListRequest {
  template: Template;
  record?: number;
  archive?: ArchivePlace;
  held?: string[];
  story?: { loop: string; turns: Record<string, number> };
}

/** Templates are never changed in their place. */
const sameQuestion = (
  { template: a, ...one }: CanvasListRequest,
  { template: b, ...other }: CanvasListRequest,
): boolean => a === b && JSON.stringify(one) === JSON.stringify(other);

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

/** So many records are looked up in one question, and in all until something has changed. */
const TOGETHER = 500;
const MOST_LOOKED_UP = 5000;

/**
 * Lists of types that have more records than are here: the site is asked for them, and until it has answered the canvas
 * goes over those at hand. Only one question is under way at a time; of those that come meanwhile the last is asked next.
 * Records that something leads to and that are not here are looked up in the same way.
 */
export class SiteLists {
  private tellings = $state.raw(new Tellings());
  /** Counts up when what was told is let go. */
  private times = $state(0);
  private answered: CanvasListRequest | undefined = $state.raw();
  private next: CanvasListRequest | undefined;
  private going = false;
  /** Numbers of records that were asked for in vain, and of those that visitors do not see. */
  private readonly lacking = new Set<number>();
  private readonly none = new Set<number>();
  private lookedUp = 0;
  private looking = false;

  /** Whether any list of the template goes over records that are not all here. */
  private needed: boolean = $derived.by(() =>
    [...this.host.compiled.elements.values()].some(({ loop }) => loop && this.asks(loop)),
  );
  /** What the site is to be asked just now; undefined where everything is at hand, or something is supposed. */
  asked: CanvasListRequest | undefined = $derived.by(() => {
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

  constructor(
    private readonly host: SiteListsHost,
    private readonly api: Api = studioApi,
  ) {}

  private asks(loop: CompiledLoop): boolean {
    return isAnsweredByServer(loop) && loop.scope.typeIds.some((id) => this.host.partial[id] !== undefined);
  }

  /** A pool that has what the site told, over one that has what is at hand. */
  over(pool: Pool): Pool {
    const wide = this.leading(pool);
    return this.needed && !this.host.preview.isSupposing ? this.tellings.over(wide, (loop) => this.asks(loop)) : wide;
  }

  /** A pool whose lists are those at hand, and which also has records that something leads to, as soon as the site has told of them. */
  leading(pool: Pool): Pool {
    if (!Object.keys(this.host.partial).length) return pool;
    const told = this.tellings.over(pool, () => false);
    return { ...told, record: (id) => told.record(id) ?? this.lack(id) };
  }

  private lack(id: number): undefined {
    if (this.none.has(id) || this.lookedUp + this.lacking.size >= MOST_LOOKED_UP) return;
    this.lacking.add(id);
    if (this.looking) return;
    this.looking = true;
    // Whoever asks is in the middle of drawing.
    queueMicrotask(() => void this.lookUp());
  }

  private async lookUp(): Promise<void> {
    try {
      while (this.lacking.size) {
        const ids = [...this.lacking].slice(0, TOGETHER);
        const { times } = this;
        const answer = await this.api('GET /workbench/records', { query: { ids: ids.join() } })
          // It is asked for again when it is drawn again.
          .catch(() => undefined);
        if (times !== this.times) continue;
        for (const id of ids) this.lacking.delete(id);
        if (!answer) continue;
        const { records } = answer;
        const found = new Set(records.map(({ id }) => id));
        for (const id of ids) if (!found.has(id)) this.none.add(id);
        this.lookedUp += ids.length;
        if (!records.length) continue;
        this.tellings = this.tellings.with({ lists: [], facets: [], stories: [], records });
        this.host.show?.();
      }
    } finally {
      this.looking = false;
    }
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
  async ask(asked: CanvasListRequest): Promise<void> {
    this.next = asked;
    if (this.going) return;
    this.going = true;
    try {
      while (this.next) {
        const now = this.next;
        this.next = undefined;
        const { times } = this;
        const lists = await this.api('POST /workbench/lists', { body: now }).catch(() => undefined);
        if (!lists || times !== this.times) continue;
        this.tellings = this.tellings.with(lists);
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
    this.lacking.clear();
    this.none.clear();
    this.lookedUp = 0;
    this.times++;
  }
}
