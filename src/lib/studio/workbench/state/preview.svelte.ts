import { untrack } from 'svelte';
import { SvelteSet } from 'svelte/reactivity';
import type { ContentRecord, Media } from '$lib/core/schema/record';
import type { Template } from '$lib/core/schema/template';
import { supposing, type Supposed } from '$lib/core/content/suppose';
import { localDay } from '$lib/core/base/write';
import { enterIterations } from '$lib/core/loops/iterations';
import { memoryPool } from '$lib/core/loops/memory-pool';
import type { ModelIndex } from '$lib/core/model/model-index';
import { makeEnv, MOST_ITERATIONS, ITERATIONS_ON_CANVAS, type Env, type Pool } from '$lib/core/paths/env';
import { Trace, type Fates } from '$lib/core/paths/trace';
import type { Scopes } from '$lib/core/paths/scopes';
import { addressOfArchive, type ArchiveOf } from '$lib/core/addresses/archives';
import { typesServed } from '$lib/core/templates/served';
import type { CompiledTree } from '$lib/core/render/compile';
import { archivesAnswered, recordsAnswered, type ServedPage } from '$lib/core/serving/answers';
import type { Serving } from '$lib/core/serving/resolution';
import { parentOf } from '$lib/core/templates/tree';
import { measured } from './measured';

export interface Drawing {
  html: string;
  trace: Trace;
  env: Env;
}

export interface PreviewHost {
  readonly template: Template;
  readonly index: ModelIndex;
  readonly records: ContentRecord[];
  readonly media: Media[];
  readonly templates: Serving[];
  readonly scopes: Scopes;
  readonly compiled: CompiledTree;
  readonly plain: CompiledTree;
  readonly lists: { over(pool: Pool): Pool; leading(pool: Pool): Pool };
  /** Set by the canvas: shows at once what the page has become. */
  show?: () => void;
}

/** The page that the template is looked at with: record or archive, page, turns of loops, and what is held open. */
export class Preview {
  recordId: number | undefined = $state();
  page = $state(1);
  /** The address of the archive on screen. */
  archiveAt: string | undefined = $state();
  /** The words that a search template is looked at with. */
  searched: string | undefined = $state();
  /** The turn looked at, by loop. */
  turns: Record<string, number> = $state({});
  /** Elements that are held open, whatever their rule says of the record on screen. */
  readonly held = new SvelteSet<string>();
  /** Values that are taken to be otherwise while designing, by record; nothing of it is stored. */
  supposed: Supposed = $state.raw(new Map());
  /** A made-up record that is on screen, where no record is as it should be. */
  made: ContentRecord | undefined = $state.raw();
  isSupposing: boolean = $derived(this.supposed.size > 0 || this.made !== undefined);
  /** All records as they are supposed to be. */
  records: ContentRecord[] = $derived.by(() => {
    const { supposed, made } = this;
    const { records, index } = this.host;
    return this.isSupposing ? supposing(records, supposed, index, made) : records;
  });
  /** The only records that the strip has, with what they were chosen for. */
  narrowed: { ids: number[]; words: string } | undefined = $state.raw();

  /** Whether it is looked at with the records that it answers, or with all of its types. */
  set: ServedPage['set'] = $state('answered');
  private serves: Template['serves'] = $derived.by(() => this.host.template.serves);
  private except: Template['except'] = $derived.by(() => this.host.template.except);
  answered: ServedPage = $derived.by(() => {
    const { templates, records, index } = this.host;
    return recordsAnswered(this.serving(), templates, records, index, this.ruleEnv, this.set);
  });
  /** The records that it can be looked at with. */
  everyone: ContentRecord[] = $derived(this.answered.records);
  /** Those that can be flipped through. */
  strip: ContentRecord[] = $derived.by(() => {
    const { narrowed } = this;
    return narrowed
      ? narrowed.ids.flatMap((id) => this.everyone.find((record) => record.id === id) ?? [])
      : this.everyone;
  });
  record: ContentRecord | undefined = $derived.by(() => {
    const { made, supposed, recordId, strip } = this;
    const there = made ?? strip.find((record) => record.id === recordId) ?? strip[0];
    return there && (made || supposed.has(there.id)) ? this.records.find(({ id }) => id === there.id) : there;
  });
  /** The archives that an archive template can be looked at with. */
  archives: ArchiveOf[] = $derived.by(() => {
    const { templates, records, index } = this.host;
    return archivesAnswered(this.serving(), templates, records, index).archives;
  });
  archive: ArchiveOf | undefined = $derived.by(() => {
    const { scopes, index } = this.host;
    return this.searched === undefined || scopes.archive?.on !== 'search'
      ? (this.archives.find((of) => addressOfArchive(of, index) === this.archiveAt) ?? this.archives[0])
      : { of: 'search', words: this.searched };
  });
  /** What visitors can see of what is here. */
  private atHand = $derived.by(() => memoryPool(this.records, this.host.media, false));
  /** What visitors can see, so that lists and relations on the canvas are those of the site. */
  pool = $derived.by(() => this.host.lists.over(this.atHand));
  /** What is here as it is, for what is counted. */
  private plainPool = $derived.by(() =>
    this.host.lists.leading(
      this.records === this.host.records ? this.atHand : memoryPool(this.host.records, this.host.media, false),
    ),
  );
  /** For what is known of rules without records. */
  ruleEnv: Env = $derived.by(() => makeEnv({ model: this.host.index, pool: this.plainPool, today: this.today() }));
  drawing: Drawing = $derived.by(() => this.draw());
  /** Whether what the canvas shows is the page that visitors get: without a blank, and with nothing held open or cut short. */
  isPage: boolean = $derived.by(() => {
    const { html, env } = this.drawing;
    return !this.held.size && !html.includes('class="blank"') && !env.stopped.size;
  });
  /** What became of each element on the page that visitors get. */
  fates: Map<string, Fates> = $derived.by(() => {
    if (this.isPage) return this.drawing.trace.tally();
    const trace = new Trace();
    const env = { ...this.freshEnv(), turnsLeft: MOST_ITERATIONS, trace };
    const { draw } = this.host.plain;
    measured('draw', () => draw(env));
    return trace.tally();
  });

  constructor(private readonly host: PreviewHost) {}

  /** What the template serves; an edit of its elements is no change of that. */
  private serving(): Serving {
    const { serves, except } = this;
    const { id, name, purpose, order } = untrack(() => this.host.template);
    return { id, name, purpose, order, serves, except };
  }

  private today = (): string => localDay(new Date(), this.host.index.site.timeZone);

  /** The environment of the page on screen, with no loop entered. */
  freshEnv(): Env {
    const { template, index } = this.host;
    return makeEnv({
      model: index,
      pool: this.pool,
      today: this.today(),
      turnsLeft: ITERATIONS_ON_CANVAS,
      ...(template.purpose === 'archive'
        ? { archive: this.archive && { ...this.archive, page: this.page } }
        : template.purpose === 'frame'
          ? {}
          : { record: this.record }),
    });
  }

  private draw(): Drawing {
    const trace = new Trace();
    const env = { ...this.freshEnv(), trace };
    if (this.held.size) env.held = this.held;
    const { draw } = this.host.compiled;
    return { html: measured('draw', () => draw(env)), env, trace };
  }

  /** An environment inside the loops of a scope, at the turns looked at. */
  envAt(scopes: Scopes): Env {
    const env = this.freshEnv();
    // Rules may be about another type than the record on screen is of.
    const { recordTypeIds } = scopes;
    if (recordTypeIds?.length && !recordTypeIds.includes(env.record?.typeId ?? ''))
      env.record = this.records.find((record) => recordTypeIds.includes(record.typeId));
    enterIterations(env, scopes, (id) => this.host.compiled.elements.get(id)?.loop, this.turns);
    return env;
  }

  /** Puts a record on screen, also one that the strip was narrowed away from. */
  put(recordId: number): void {
    if (!this.everyone.some(({ id }) => id === recordId)) {
      // A record that it does not answer can be looked at too; one of a type that it does not serve cannot.
      const record = this.host.records.find(({ id }) => id === recordId);
      if (!record || !typesServed({ serves: this.serves }, this.host.index).includes(record.typeId)) return;
      this.set = 'all';
    }
    if (this.narrowed && !this.narrowed.ids.includes(recordId)) this.narrowed = undefined;
    this.recordId = recordId;
    this.made = undefined;
  }

  /** Takes a value of a record to be otherwise; the page, rules and loops follow at once. */
  suppose(recordId: number, step: string, value: unknown): void {
    this.supposed = new Map(this.supposed).set(recordId, { ...this.supposed.get(recordId), [step]: value });
  }

  /** Lets go of one supposed value, or of all with a made-up record. */
  letGo(recordId?: number, step?: string): void {
    if (recordId === undefined || step === undefined) {
      this.supposed = new Map();
      this.made = undefined;
      return;
    }
    const { [step]: _, ...rest } = this.supposed.get(recordId) ?? {};
    const next = new Map(this.supposed);
    if (Object.keys(rest).length) next.set(recordId, rest);
    else next.delete(recordId);
    this.supposed = next;
  }

  /** Puts another archive on screen, at its first page. */
  lookAt(of: ArchiveOf): void {
    this.archiveAt = addressOfArchive(of, this.host.index);
    this.searched = undefined;
    this.page = 1;
  }

  /** The next record or the one before; of an archive its pages, and past the last one the next archive. */
  flip(by: 1 | -1): void {
    if (this.host.template.purpose === 'archive') {
      const pages = this.drawing.env.paging?.pages ?? 1;
      const page = this.page + by;
      const { archives, archive } = this;
      const { index } = this.host;
      const own = archive && addressOfArchive(archive, index);
      const at = archives.findIndex((of) => addressOfArchive(of, index) === own);
      const next = archives[(at + by + archives.length) % archives.length];
      if (page >= 1 && page <= pages) this.page = page;
      else if (next && archives.length > 1) this.lookAt(next);
      return;
    }
    const at = this.strip.findIndex((record) => record.id === this.record?.id);
    if (this.made) this.letGo();
    const next = this.strip[(at + by + this.strip.length) % this.strip.length];
    if (next) this.recordId = next.id;
    this.host.show?.();
  }

  /** Holds an element open, and of branches only this one; or lets go of it. True where it is held now. */
  hold(id: string): boolean {
    if (this.held.delete(id)) return false;
    const place = parentOf(this.host.template.tree, id);
    if (place?.parent.kind === 'alternatives') for (const other of place.parent.children) this.held.delete(other);
    this.held.add(id);
    return true;
  }
}
