import { SvelteSet } from 'svelte/reactivity';
import type { ContentRecord, Media } from '$lib/core/schema/record';
import { endsInTree } from '$lib/core/checks/loose-ends';
import { endsOfRules, overlapsIn, saidOfRule } from '$lib/core/checks/rules';
import { whyOf, type Why } from '$lib/core/checks/why';
import { compileRule } from '$lib/core/rules/compile';
import { localDay } from '$lib/core/base/write';
import { turnAt } from '$lib/core/loops/evaluate';
import { groupItems } from '$lib/core/loops/group';
import { memoryPool } from '$lib/core/loops/memory-pool';
import { indexModel, kindOf, type Field } from '$lib/core/model/model';
import type { Model } from '$lib/core/schema/model';
import type { ModelIndex } from '$lib/core/model/model-index';
import { makeEnv, type Env, type Fate } from '$lib/core/paths/env';
import { coloursCss } from '$lib/core/elements/common';
import { compilePath } from '$lib/core/paths/compile';
import type { Path } from '$lib/core/schema/path';
import type { Scopes, ValueType } from '$lib/core/paths/scopes';
import { addressOfArchive, monthsOf, type ArchiveOf } from '$lib/core/addresses/archives';
import {
  compileTree,
  scopesOf,
  type CompiledElement,
  type CompiledTree,
  type LooseEnd,
  type PartFinder,
} from '$lib/core/render/compile';
import { completeTheme, themeCss } from '$lib/core/theme/theme';
import type { Theme } from '$lib/core/schema/theme';
import { clipOf, piecesFrom, topmost, unwrapping, wrapping } from '$lib/core/templates/arrange';
import { repeatFor } from '$lib/core/templates/bring';
import { mapRule, pathsOf } from '$lib/core/rules/walk';
import type { Group } from '$lib/core/schema/rule';
import type { NamedRule } from '$lib/core/schema/named-rule';
import { branchesFor } from '$lib/core/templates/branches';
import { pieceFrom } from '$lib/core/templates/build';
import { applyEdit, type Edit, type Operation } from '$lib/core/templates/edits';
import { shared } from '$lib/core/templates/share';
import { elementNamed } from '$lib/core/elements';
import { newId } from '$lib/core/base/ids';
import { typeOf } from '$lib/core/templates/served';
import type { Element, Tree } from '$lib/core/schema/element';
import type { Target } from '$lib/core/schema/target';
import type { Template } from '$lib/core/schema/template';
import { nameOf } from '$lib/core/templates/names';
import { freshPiece, parentOf, pieceOf, usesOf, walk, type Piece, type Use } from '$lib/core/templates/tree';
import { type RequestFailed, send, wordsOf } from '../request';
import { Survey } from '../survey/survey.svelte';
import { spent } from './spent';

export interface WorkbenchData {
  model: Model;
  records: ContentRecord[];
  media: Media[];
  /** Types of which the workbench has only some records, with how many there are. */
  partial: Record<string, number>;
  template: Template;
  /** Every part, this template too where it is one. */
  parts: Template[];
  theme: Theme;
}

/** What became of an element in one drawing, over all turns it stands in. */
export interface Fates {
  drawn: number;
  rule: number;
  empty: number;
}

export interface Drawing {
  html: string;
  fates: Map<string, Fates>;
  env: Env;
}

type SaveState =
  | { is: 'saved' }
  | { is: 'saving' }
  | { is: 'unsaved' }
  | { is: 'failed'; why: string; final: boolean; conflict?: boolean };

/** A page with more turns than these is stopped on the canvas, where it says so; the site goes on further. */
const TURNS_ON_CANVAS = 3000;

const SAVE_AFTER = 400;
const RETRY_AFTER = 3000;

/**
 * One template on the workbench: the tree with its history, the record on screen, what is selected, and everything
 * that follows from these. The tree is immutable; every change goes through `edit`, and undo takes edits back.
 */
export class Workbench {
  readonly partial: Record<string, number>;
  media: Media[] = $state.raw([]);
  model: Model = $state.raw() as Model;
  records: ContentRecord[] = $state.raw([]);
  template: Template = $state.raw() as Template;
  recordId: number | undefined = $state();
  page = $state(1);
  /** The address of the archive on screen. */
  archiveAt: string | undefined = $state();
  /** The words that a search template is looked at with. */
  searched: string | undefined = $state();
  selected: string = $state('');
  /** What is selected beside `selected`. */
  also: string[] = $state.raw([]);
  hovered: string | undefined = $state();
  /** Elements whose children the outline does not list. */
  readonly folded = new SvelteSet<string>();
  /** Values on the shelf and the elements they feed light up together. */
  litPath: Path | undefined = $state.raw();
  /** The turn looked at, by loop. */
  turns: Record<string, number> = $state({});
  saving: SaveState = $state.raw({ is: 'saved' });
  /** What stands where the page is: the page itself, many pages, or where everything appears. */
  view: 'page' | 'proof' | 'coverage' = $state('page');
  /** Counts the pieces that were placed: what is new is filled first, whatever was worked on before. */
  placed = $state(0);
  /** Elements that are held open, whatever their rule says of the record on screen. */
  readonly held = new SvelteSet<string>();
  /** The only records that the strip has, with what they were chosen for. */
  narrowed: { ids: number[]; words: string } | undefined = $state.raw();
  /** The tree as it was when it was opened. */
  readonly opened: Tree;
  readonly survey: Survey;
  /** The kept rule that is open to be changed; a new one has version 0. */
  editing: NamedRule | undefined = $state.raw();
  /** The element whose rule is being kept: it goes by the name from then on. */
  keeping: string | undefined = $state();
  /** A rule that was copied, to be put on other elements. */
  ruleClip: Group | undefined = $state.raw();
  /** What was last said to the designer, such as what a paste refused. */
  notice: string = $state('');
  done: Edit[] = $state.raw([]);
  undone: Edit[] = $state.raw([]);
  theme: Theme = $state.raw() as Theme;
  parts: Template[] = $state.raw([]);
  /** Names of the edits since the last saving. */
  private unsent: string[] = [];
  private readonly sitting = newId('sit');
  private timer: ReturnType<typeof setTimeout> | undefined;
  private inFlight = false;
  private typing: { place: string; at: number } | undefined;

  /** Set by the canvas: shows at once what the page has become. */
  show: (() => void) | undefined;

  index: ModelIndex = $derived(indexModel(this.model));
  tree: Tree = $derived(this.template.tree);
  typeId: string = $derived(typeOf(this.template, this.index) ?? '');
  scopes: Scopes = $derived(scopesOf(this.template, this.index));
  private partFinder: PartFinder = $derived.by(() => {
    const byId = new Map(this.parts.map((part) => [part.id, part]));
    return (id) => byId.get(id);
  });
  compiled: CompiledTree = $derived(
    spent('compile', () =>
      compileTree(this.tree, this.scopes, this.index, { studio: true, parts: this.partFinder, id: this.template.id }),
    ),
  );
  /** Everything that is selected, without what stands in something selected; the root only by itself. */
  chosen: string[] = $derived(
    this.also.length
      ? topmost(this.tree, [this.selected, ...this.also])
      : this.selected === this.tree.root
        ? []
        : [this.selected],
  );
  /** The records that it can be looked at with. */
  everyone: ContentRecord[] = $derived(
    this.template.purpose === 'archive' ? [] : this.records.filter((record) => record.typeId === this.typeId),
  );
  /** Those that can be flipped through. */
  strip: ContentRecord[] = $derived.by(() => {
    const { narrowed } = this;
    return narrowed
      ? narrowed.ids.flatMap((id) => this.everyone.find((record) => record.id === id) ?? [])
      : this.everyone;
  });
  record: ContentRecord | undefined = $derived(
    this.strip.find((record) => record.id === this.recordId) ?? this.strip[0],
  );
  /** The archives that an archive template can be looked at with. */
  archives: ArchiveOf[] = $derived(this.template.purpose === 'archive' ? this.archivesServed() : []);
  archive: ArchiveOf | undefined = $derived(
    this.searched === undefined || this.scopes.archive?.on !== 'search'
      ? (this.archives.find((of) => addressOfArchive(of, this.index) === this.archiveAt) ?? this.archives[0])
      : { of: 'search', words: this.searched },
  );
  /** What visitors can see, so that lists and relations on the canvas are those of the site. */
  pool = $derived(memoryPool(this.records, this.media, false));
  drawing: Drawing = $derived(this.draw());
  css: string = $derived(
    themeCss(completeTheme(this.theme)) + this.compiled.css + coloursCss(this.drawing.env.colours),
  );
  uses: Use[] = $derived(usesOf(this.tree));
  /** For what is known of rules without records. */
  private ruleEnv: Env = $derived(
    makeEnv({ model: this.index, pool: this.pool, today: localDay(new Date(), this.model.site.timeZone) }),
  );
  looseEnds: LooseEnd[] = $derived([
    ...this.compiled.looseEnds,
    ...endsOfRules(this.tree, this.compiled.elements, this.ruleEnv),
    ...endsInTree(this.template, completeTheme(this.theme)),
  ]);
  rows = $derived(walk(this.tree));
  /** What the outline lists: everything that stands in nothing folded. */
  listed = $derived(
    this.folded.size ? this.rows.filter(({ above }) => !above.some((id) => this.folded.has(id))) : this.rows,
  );
  undoLabel: string | undefined = $derived(this.done.at(-1)?.label);
  redoLabel: string | undefined = $derived(this.undone.at(-1)?.label);

  constructor(data: WorkbenchData) {
    this.model = data.model;
    this.records = data.records;
    this.media = data.media;
    this.partial = data.partial;
    this.template = data.template;
    this.parts = data.parts;
    this.theme = data.theme;
    this.opened = data.template.tree;
    this.survey = new Survey(this);
    this.selected = data.template.tree.root;
    this.recordId = this.strip[0]?.id;
  }

  /** Every archive that this template serves and that lists something: terms in their order, months newest first. */
  private archivesServed(): ArchiveOf[] {
    if (this.template.purpose !== 'archive') return [];
    const found = this.template.serves.flatMap((target) => this.archivesOf(target));
    const seen = new Set<string>();
    return found.filter((of) => {
      const key = JSON.stringify(of);
      return !seen.has(key) && Boolean(seen.add(key));
    });
  }

  private archivesOf(target: Target): ArchiveOf[] {
    const shown = this.records.filter(({ status }) => status === 'published');
    const terms = (ids: readonly string[]) => ids.map((termId): ArchiveOf => ({ of: 'term', termId }));
    switch (target.on) {
      case 'type':
        return [{ of: 'type', typeId: target.typeId }];
      case 'taxonomy':
        return terms(this.index.termsOf(target.taxonomyId).map(({ id }) => id));
      case 'term':
        return terms(this.index.below(target.termId));
      case 'authors':
        return this.model.authors.map(({ id }) => ({ of: 'author', authorId: id }));
      case 'author':
        return [{ of: 'author', authorId: target.authorId }];
      case 'dates': {
        const { typeId } = target;
        const months = monthsOf(
          shown.filter((record) => record.typeId === typeId),
          this.index,
        );
        const years = [...new Set(months.map(({ year }) => year))];
        return years.flatMap((year): ArchiveOf[] => [
          { of: 'date', typeId, year },
          ...months.filter((one) => one.year === year).map((month): ArchiveOf => ({ of: 'date', typeId, ...month })),
        ]);
      }
      case 'search': {
        // Something to look at from the first: the first word of some title.
        const [word] = (shown[0]?.title ?? '').split(' ');
        return [{ of: 'search', words: word ?? '' }];
      }
      case 'front':
        return [{ of: 'front' }];
      case 'missing':
        return [{ of: 'missing' }];
      case 'everything':
        return this.model.types.map(({ id }) => ({ of: 'type', typeId: id }));
      default:
        return [];
    }
  }

  /** The environment of the page on screen, with no loop entered. */
  freshEnv(): Env {
    return makeEnv({
      model: this.index,
      pool: this.pool,
      today: localDay(new Date(), this.model.site.timeZone),
      turnsLeft: TURNS_ON_CANVAS,
      ...(this.template.purpose === 'archive'
        ? { archive: this.archive && { ...this.archive, page: this.page } }
        : this.template.purpose === 'frame'
          ? {}
          : { record: this.record }),
    });
  }

  private draw(): Drawing {
    const fates = new Map<string, Fates>();
    const env = this.freshEnv();
    if (this.held.size) env.held = this.held;
    env.trace = (id: string, fate: Fate) => {
      let seen = fates.get(id);
      if (!seen) fates.set(id, (seen = { drawn: 0, rule: 0, empty: 0 }));
      seen[fate]++;
    };
    const { draw } = this.compiled;
    return { html: spent('draw', () => draw(env)), fates, env };
  }

  /** An environment inside the loops of a scope, at the turns looked at. */
  envAt(scopes: Scopes): Env {
    const env = this.freshEnv();
    // Rules may be about another type than the record on screen is of.
    const { recordTypeIds } = scopes;
    if (recordTypeIds?.length && !recordTypeIds.includes(env.record?.typeId ?? ''))
      env.record = this.records.find((record) => recordTypeIds.includes(record.typeId));
    for (const scope of scopes.loops) {
      const loop = this.compiled.elements.get(scope.id)?.loop;
      if (!loop) continue;
      const list = env.pool.list(loop, env);
      const at = Math.min(this.turns[scope.id] ?? 0, list.items.length - 1);
      const item = list.items[at];
      if (!item) continue;
      const first = (list.page - 1) * (loop.perPage ?? 0) + 1;
      const turn = turnAt(loop, item, first + at, list.total);
      if (loop.group) {
        const own = groupItems(loop, env, list.items, first).find((one) => one.items.some((i) => i.item === item));
        turn.group = own && { label: own.label, size: own.items.length };
      }
      env.turns[scope.depth] = turn;
    }
    return env;
  }

  /** Fields with their kinds, for values that stand in no record. */
  shownFields(fields: readonly Field[]): { field: Field; type: ValueType }[] {
    return fields.flatMap((field) => {
      const known = kindOf(field);
      return known ? [{ field, type: { ...known, label: field.label, typeIds: [] } }] : [];
    });
  }

  /** Puts a record on screen, on the page itself. */
  designWith(recordId: number): void {
    if (this.narrowed && !this.narrowed.ids.includes(recordId)) this.narrowed = undefined;
    this.recordId = recordId;
    this.view = 'page';
  }

  /** Holds an element open, and of branches only this one; or lets go of it. */
  hold(id: string): void {
    if (this.held.delete(id)) return;
    const place = parentOf(this.tree, id);
    if (place?.parent.kind === 'alternatives') for (const other of place.parent.children) this.held.delete(other);
    this.held.add(id);
    this.reveal(id);
  }

  /** Why an element is on the page on screen, or is not. */
  whyOf(id: string): Why {
    return whyOf(
      this.tree,
      this.compiled.elements,
      id,
      ({ scopes }) => this.envAt(scopes),
      (one) => Boolean(this.drawing.fates.get(one)?.drawn),
    );
  }

  /** Keeps a rule under a name, and has it at hand. Throws what the server refuses. */
  async keepRule(rule: NamedRule): Promise<NamedRule> {
    const { id, version, ...rest } = rule;
    const kept = version
      ? await send<NamedRule>('PUT', `/api/v1/rules/${id}`, { ...rest, id, version })
      : await send<NamedRule>('POST', '/api/v1/rules', rest);
    const others = this.model.rules.filter((one) => one.id !== kept.id);
    this.model = { ...this.model, rules: [...others, kept].sort((a, b) => a.name.localeCompare(b.name)) };
    return kept;
  }

  /** An element's rule as one of the record that it reads; undefined, with the reason, where it reads anything else. */
  ruleToKeep(id: string): { rule: Group; typeId: string } | string {
    const rule = this.tree.elements[id]?.rule;
    const { loops, recordTypeIds = [] } = this.scopesAt(id);
    if (!rule?.rules.length) return 'There is no rule to keep yet.';
    const froms = [...new Set(pathsOf(rule).map((path) => path.from))].filter((from) => from !== 'site');
    const [from = 'record'] = froms;
    if (froms.length > 1) return 'A kept rule is about one record, and this one reads several.';
    const types = from === 'record' ? recordTypeIds : loops.find((loop) => from === `loop:${loop.id}`)?.typeIds;
    const [typeId] = types ?? [];
    if (!typeId || types?.length !== 1) return 'A kept rule is about records of one type, and this one is not.';
    return {
      typeId,
      rule: mapRule(rule, (path) => (path.from === from ? { ...path, from: 'record' } : path)) as Group,
    };
  }

  /** Puts a rule on an element; refused, with the reason, where some of it cannot be reached from there. */
  putRule(id: string, rule: Group): string | undefined {
    const [wrong] = compileRule(rule, this.scopesAt(id), this.index).problems;
    if (wrong) return [wrong.what, wrong.fix].filter(Boolean).join(' ');
    const label = `${this.nameOf(id)} appears by a copied rule`;
    this.edit(label, { do: 'put', id, at: ['rule'], value: rule });
    return undefined;
  }

  /** What is known of an element's rule whatever a record says; undefined where that is nothing. */
  saidOfRule(id: string): string | undefined {
    const rule = this.compiled.elements.get(id)?.rule;
    return rule && saidOfRule(rule, this.ruleEnv);
  }

  /** For each branch of alternatives the later ones that may hold together with it. */
  overlapsOf(id: string): number[][] {
    const children = this.tree.elements[id]?.children ?? [];
    return overlapsIn(
      children.map((child) => this.compiled.elements.get(child)?.rule),
      this.ruleEnv,
    );
  }

  element(id: string): Element | undefined {
    return this.tree.elements[id];
  }

  compiledOf(id: string): CompiledElement | undefined {
    return this.compiled.elements.get(id);
  }

  /** The scopes of what an element's own slots read. */
  scopesAt(id: string): Scopes {
    return this.compiled.elements.get(id)?.scopes ?? this.scopes;
  }

  /** The scopes that a thing put at this element would have: inside it where it holds others. */
  scopesIn(id: string): Scopes {
    const made = this.compiled.elements.get(id);
    const holds = elementNamed(this.tree.elements[id]?.kind ?? '')?.holds;
    return (holds ? made?.inside : made?.scopes) ?? this.scopes;
  }

  /** Applies an edit, keeps what takes it back, and saves. Returns false where it cannot be applied. */
  edit(label: string, ...operations: Operation[]): boolean {
    const applied = applyEdit(this.tree, { label, operations });
    if (!applied.ok) return false;
    // Typing goes into one edit: what follows at once at the same place is taken back together with it.
    const [only] = operations;
    const place =
      only?.do === 'put' && operations.length === 1 ? `${label} ${only.id} ${only.at.join('.')}` : undefined;
    const now = Date.now();
    if (!place || place !== this.typing?.place || now - this.typing.at > 1500)
      this.done = [...this.done, applied.value.inverse];
    this.typing = place === undefined ? undefined : { place, at: now };
    this.undone = [];
    this.notice = '';
    this.settle(applied.value.tree, label, operations);
    return true;
  }

  undo(): void {
    this.typing = undefined;
    const edit = this.done.at(-1);
    const applied = edit && applyEdit(this.tree, edit);
    if (!edit || !applied?.ok) return;
    this.done = this.done.slice(0, -1);
    this.undone = [...this.undone, applied.value.inverse];
    this.settle(applied.value.tree, `Undid: ${applied.value.inverse.label}`, edit.operations);
  }

  redo(): void {
    const edit = this.undone.at(-1);
    const applied = edit && applyEdit(this.tree, edit);
    if (!edit || !applied?.ok) return;
    this.undone = this.undone.slice(0, -1);
    this.done = [...this.done, applied.value.inverse];
    this.settle(applied.value.tree, applied.value.inverse.label, edit.operations);
  }

  /** Undoes or redoes until so many edits are done. */
  goTo(count: number): void {
    while (this.done.length > count && this.undoLabel !== undefined) this.undo();
    while (this.done.length < count && this.redoLabel !== undefined) this.redo();
  }

  private settle(tree: Tree, label: string, operations: readonly Operation[]): void {
    this.template = { ...this.template, tree };
    this.show?.();
    if (!tree.elements[this.selected]) {
      // What came in place of what is gone, such as what an undo brought back.
      const brought = operations.findLast((one) => one.do === 'insert');
      this.selected = brought?.do === 'insert' ? brought.piece.top : tree.root;
    }
    if (this.also.length) this.also = this.also.filter((id) => tree.elements[id]);
    if (this.unsent.at(-1) !== label) this.unsent.push(label);
    this.saveSoon();
  }

  /** Unfolds everything that an element stands in. */
  reveal(id: string): void {
    if (!this.folded.size) return;
    for (const above of this.rows.find(({ element }) => element.id === id)?.above ?? []) this.folded.delete(above);
  }

  /** Selects the element before or after the selected one, in reading order. */
  step(by: 1 | -1): void {
    const at = this.rows.findIndex(({ element }) => element.id === this.selected);
    const next = this.rows[at + by]?.element.id;
    if (next) this.select(next);
  }

  /** Selects one element, or adds it to what is selected, or takes it out again. */
  select(id: string, more = false): void {
    if (!more || id === this.tree.root || this.selected === this.tree.root) {
      this.selected = id;
      this.also = [];
    } else if (id === this.selected) {
      const [next, ...rest] = this.also;
      if (next) [this.selected, this.also] = [next, rest];
    } else if (this.also.includes(id)) this.also = this.also.filter((one) => one !== id);
    else this.also = [...this.also, id];
  }

  selectParent(): void {
    const above = parentOf(this.tree, this.selected);
    if (above) this.select(above.parent.id);
  }

  /** What is selected in words, such as “Facts” or “3 elements”. */
  private get whatIsChosen(): string {
    return this.chosen.length === 1 ? this.nameOf(this.chosen[0] as string) : `${this.chosen.length} elements`;
  }

  wrap(kind: string): void {
    const made = wrapping(this.tree, this.chosen, kind);
    const label = elementNamed(kind)?.label.toLowerCase() ?? kind;
    if (made && this.edit(`Put ${this.whatIsChosen} into a ${label}`, ...made.operations)) this.select(made.id);
  }

  unwrap(id: string): void {
    const operations = unwrapping(this.tree, id);
    const first = this.tree.elements[id]?.children[0];
    if (operations && this.edit(`Took ${this.nameOf(id)} away from around what it holds`, ...operations) && first)
      this.select(first);
  }

  /** Puts a branch for each answer of a value into alternatives, after those that are there. */
  branch(id: string, path: Path, type: ValueType): void {
    const element = this.tree.elements[id];
    if (!element) return;
    const { recordTypeIds, loops } = this.scopesAt(id);
    const here =
      path.from === 'record' ? recordTypeIds : loops.find((loop) => path.from === `loop:${loop.id}`)?.typeIds;
    const pieces = branchesFor(
      path,
      type,
      this.index,
      path.steps.length === 1 && path.steps[0] === '@type' ? here : undefined,
    );
    this.edit(
      `Made a branch for each ${type.label}`,
      ...pieces.map((piece, i): Operation => ({
        do: 'insert',
        parent: id,
        index: element.children.length + i,
        piece,
      })),
    );
  }

  /** Makes a part of an element that other templates can place too, and puts the part in its place here. */
  async share(id: string): Promise<void> {
    const place = parentOf(this.tree, id);
    if (!place) return;
    const name = this.nameOf(id);
    const made = shared(pieceOf(this.tree, id), this.scopesAt(id), this.index);
    if (!made.ok) {
      this.notice = [made.problems[0]?.what, made.problems[0]?.fix].filter(Boolean).join(' ');
      return;
    }
    try {
      const { tree, typeId } = made.value;
      const part = await send<Template>('POST', '/api/v1/templates', { name, purpose: 'part', tree, typeId });
      this.parts = [...this.parts, part];
      const piece = pieceFrom({ kind: 'part', name, props: { part: part.id } });
      const now = parentOf(this.tree, id) ?? place;
      this.edit(
        `Made a part of ${name}`,
        { do: 'remove', id },
        { do: 'insert', parent: now.parent.id, index: now.index, piece },
      );
      this.select(piece.top);
    } catch (error) {
      this.notice = wordsOf(error);
    }
  }

  /** The text of the selected elements for the clipboard; undefined where nothing can be copied. */
  copyText(): string | undefined {
    return this.chosen.length ? clipOf(this.tree, this.chosen) : undefined;
  }

  /** Puts copied elements at the place for new ones; says what is wrong where they cannot stand here. */
  paste(text: string): boolean {
    const pieces = piecesFrom(text, this.template.purpose);
    if (!pieces.ok) {
      this.notice = [pieces.problems[0]?.what, pieces.problems[0]?.fix].filter(Boolean).join(' ');
      return false;
    }
    const place = this.placeForNew();
    const operations = pieces.value.map((piece, i): Operation => ({
      do: 'insert',
      parent: place.parent,
      index: place.index + i,
      piece,
    }));
    const label = pieces.value.length === 1 ? 'an element' : `${pieces.value.length} elements`;
    if (!this.edit(`Pasted ${label}`, ...operations)) return false;
    this.select(pieces.value[0]?.top ?? this.selected);
    this.also = pieces.value.slice(1).map((piece) => piece.top);
    return true;
  }

  /** Whether a path from a place ends at a relation of several records. */
  leadsToSeveral(path: Path, scopes: Scopes): boolean {
    const made = compilePath(path, scopes, this.index);
    return made.ok && made.value.type.many && made.value.type.kind.family.leads === 'record';
  }

  /** What repeats over the values at a path; undefined where there is one. */
  repeating(path: Path, type: ValueType, scopes: Scopes): { piece: Piece; label: string } | undefined {
    return repeatFor(path, type, { leadsToSeveral: (part) => this.leadsToSeveral(part, scopes) });
  }

  /** Puts what repeats over the values at a path in the place of an element, with its name, rule and looks. */
  repeatInPlace(id: string, path: Path, type: ValueType): void {
    const place = parentOf(this.tree, id);
    const element = this.tree.elements[id];
    const made = this.repeating(path, type, this.scopesAt(id));
    const top = made?.piece.elements[made.piece.top];
    if (!place || !element || !made || !top) return;
    const { name, rule, style, css } = element;
    const kept: Element = { ...top, name: name ?? top.name, rule, style, css };
    const piece: Piece = { ...made.piece, elements: { ...made.piece.elements, [top.id]: kept } };
    const done = this.edit(
      `Repeated over ${type.label}`,
      { do: 'remove', id },
      { do: 'insert', parent: place.parent.id, index: place.index, piece },
    );
    if (done) this.select(piece.top);
  }

  /** Puts another state of the template in the place of this one; undoing brings this one back. */
  replaceTree(tree: Tree, label: string): void {
    this.edit(label, { do: 'replace', tree });
  }

  /** Writes one value of a record, and shows it at once. Returns what was wrong. */
  async correct(record: ContentRecord, fieldId: string, value: unknown): Promise<string | undefined> {
    try {
      const change = fieldId === '@title' ? { title: value } : { values: { [fieldId]: value } };
      const saved = await send<ContentRecord>('PATCH', `/api/v1/records/${record.id}`, {
        version: record.version,
        ...change,
      });
      this.records = this.records.map((one) => (one.id === saved.id ? saved : one));
      const field = this.index.field(fieldId)?.field;
      const kind = field && kindOf(field)?.kind;
      // A relation changes its other side too, and a picture may be new to the library.
      if (kind?.pointsAt || kind?.refs) {
        const fresh = await send<{ records: ContentRecord[]; media: Media[] }>('GET', '/api/v1/workbench');
        this.records = fresh.records;
        this.media = fresh.media;
      }
      return undefined;
    } catch (error) {
      return wordsOf(error);
    }
  }

  rename(name: string): void {
    if (!name.trim() || name.trim() === this.template.name) return;
    this.template = { ...this.template, name: name.trim() };
    this.saveSoon();
  }

  /** Takes over what the template serves, as it was kept elsewhere on the screen. */
  servesNow({ serves, except, version }: Pick<Template, 'serves' | 'except' | 'version'>): void {
    this.template = { ...this.template, serves, except, version };
  }

  /** Puts a piece at a place and selects it. */
  insert(label: string, piece: Piece, parent: string, index: number): void {
    if (!this.edit(label, { do: 'insert', parent, index, piece })) return;
    this.select(piece.top);
    this.placed++;
  }

  /** Removes everything that is selected. */
  removeChosen(): void {
    const [first] = this.chosen;
    const place = first ? parentOf(this.tree, first) : undefined;
    if (!place) return;
    const gone = new Set(this.chosen);
    const left = place.parent.children.filter((id) => !gone.has(id));
    const next = left[Math.min(place.index, left.length - 1)] ?? place.parent.id;
    const operations = this.chosen.map((id): Operation => ({ do: 'remove', id }));
    if (this.edit(`Removed ${this.whatIsChosen}`, ...operations)) this.select(next);
  }

  /** A copy of each selected element after it. */
  duplicateChosen(): void {
    const pieces = this.chosen.map((id) => ({ id, piece: freshPiece(pieceOf(this.tree, id)) }));
    // From the last to the first, so that places stay where they were.
    const operations = [...pieces].reverse().flatMap(({ id, piece }): Operation[] => {
      const place = parentOf(this.tree, id);
      return place ? [{ do: 'insert', parent: place.parent.id, index: place.index + 1, piece }] : [];
    });
    if (!operations.length || !this.edit(`Duplicated ${this.whatIsChosen}`, ...operations)) return;
    this.select(pieces[0]?.piece.top ?? this.selected);
    this.also = pieces.slice(1).map(({ piece }) => piece.top);
  }

  /** Moves the selected element among those beside it, out of what holds it, or into what stands before it. */
  moveChosen(to: 'up' | 'down' | 'out' | 'in'): void {
    const id = this.selected;
    const place = parentOf(this.tree, id);
    if (!place) return;
    const label = `Moved ${this.nameOf(id)}`;
    const move = (parent: string, index: number) => this.edit(label, { do: 'move', id, parent, index });
    if (to === 'up' && place.index > 0) move(place.parent.id, place.index - 1);
    if (to === 'down' && place.index < place.parent.children.length - 1) move(place.parent.id, place.index + 1);
    const above = parentOf(this.tree, place.parent.id);
    if (to === 'out' && above) move(above.parent.id, above.index + 1);
    const before = this.tree.elements[place.parent.children[place.index - 1] ?? ''];
    if (to === 'in' && before && elementNamed(before.kind)?.holds) move(before.id, before.children.length);
  }

  /** Where a new thing goes when no place was pointed at: into the selected element, or after it. */
  placeForNew(): { parent: string; index: number } {
    const selected = this.tree.elements[this.selected];
    if (selected && elementNamed(selected.kind)?.holds) return { parent: selected.id, index: selected.children.length };
    const place = parentOf(this.tree, this.selected);
    if (place) return { parent: place.parent.id, index: place.index + 1 };
    return { parent: this.tree.root, index: this.tree.elements[this.tree.root]?.children.length ?? 0 };
  }

  /** What an element is called among others: its name, or what it says or is bound to. */
  titleOf(id: string): string {
    const element = this.tree.elements[id];
    return element ? nameOf(element, this.index) : 'an element';
  }

  /** The name of an element: the designer's, or its kind with what it is bound to. */
  nameOf(id: string): string {
    const element = this.tree.elements[id];
    if (!element) return 'an element';
    const kind = elementNamed(element.kind);
    return element.name || kind?.label || element.kind;
  }

  /** Puts another archive on screen, at its first page. */
  lookAt(of: ArchiveOf): void {
    this.archiveAt = addressOfArchive(of, this.index);
    this.searched = undefined;
    this.page = 1;
  }

  flip(by: 1 | -1): void {
    if (this.template.purpose === 'archive') {
      const pages = this.drawing.env.paging?.pages ?? 1;
      const page = this.page + by;
      const { archives } = this;
      const at = archives.findIndex((of) => of === this.archive);
      const next = archives[(at + by + archives.length) % archives.length];
      // Past the last page comes the next archive.
      if (page >= 1 && page <= pages) this.page = page;
      else if (next && archives.length > 1) this.lookAt(next);
      return;
    }
    const at = this.strip.findIndex((record) => record.id === this.record?.id);
    const next = this.strip[(at + by + this.strip.length) % this.strip.length];
    if (next) this.recordId = next.id;
    this.show?.();
  }

  private saveSoon(): void {
    if (this.saving.is === 'failed' && this.saving.final) return;
    this.saving = { is: 'unsaved' };
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.save(), SAVE_AFTER);
  }

  async save(): Promise<void> {
    clearTimeout(this.timer);
    if (this.inFlight || this.saving.is === 'saved') return;
    this.inFlight = true;
    this.saving = { is: 'saving' };
    const sent = this.template;
    const edits = this.unsent;
    this.unsent = [];
    try {
      const { template } = await send<{ template: Template }>('PUT', `/api/v1/templates/${sent.id}`, {
        template: sent,
        edits: edits.map((label) => label.slice(0, 300)).slice(-1000),
        sitting: this.sitting,
      });
      const moved = this.template !== sent;
      this.template = { ...this.template, version: template.version };
      this.saving = moved ? { is: 'unsaved' } : { is: 'saved' };
      if (moved) this.timer = setTimeout(() => void this.save(), SAVE_AFTER);
    } catch (error) {
      const failed = error as RequestFailed;
      this.unsent = [...edits, ...this.unsent];
      const final = failed.status === 409 || failed.status === 404;
      this.saving = {
        is: 'failed',
        why: failed.problems?.[0]?.what ?? failed.message,
        final,
        conflict: failed.status === 409,
      };
      if (!final) this.timer = setTimeout(() => void this.save(), RETRY_AFTER);
    } finally {
      this.inFlight = false;
    }
  }

  /** What is kept on the server now, for looking at beside this. */
  kept(): Promise<Template> {
    return send<Template>('GET', `/api/v1/templates/${this.template.id}`);
  }

  /** After a conflict: puts this in the place of what was saved elsewhere, which stays among the versions. */
  async keepMine(): Promise<void> {
    const { version } = await this.kept();
    this.template = { ...this.template, version };
    this.saving = { is: 'unsaved' };
    await this.save();
  }

  /** After a conflict: takes what was saved elsewhere; undoing brings this back. */
  async takeTheirs(): Promise<void> {
    const theirs = await this.kept();
    this.template = { ...this.template, version: theirs.version };
    this.saving = { is: 'saved' };
    this.replaceTree(theirs.tree, 'Took what was saved elsewhere');
  }
}
