import type { ContentRecord, Media } from '$lib/core/content/record';
import { headingOrder } from '$lib/core/checks/headings';
import { localDay } from '$lib/core/formats/write';
import { memoryPool } from '$lib/core/loops/memory-pool';
import { indexModel, type Model, type ModelIndex } from '$lib/core/model/model';
import { makeEnv, type Env, type Fate } from '$lib/core/paths/env';
import type { Path, Scopes } from '$lib/core/paths/path';
import {
  compileTree,
  scopesOf,
  type CompiledElement,
  type CompiledTree,
  type LooseEnd,
} from '$lib/core/render/compile';
import { applyEdit, type Edit, type Operation } from '$lib/core/templates/edits';
import { elementNamed } from '$lib/core/elements';
import { typeOf, type Element, type Template, type Tree } from '$lib/core/templates/template';
import { freshPiece, parentOf, pieceOf, usesOf, walk, type Piece, type Use } from '$lib/core/templates/tree';
import { RequestFailed, send } from '../request';

export interface WorkbenchData {
  model: Model;
  records: ContentRecord[];
  media: Media[];
  /** Types of which the workbench has only some records, with how many there are. */
  partial: Record<string, number>;
  template: Template;
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

type SaveState = { is: 'saved' } | { is: 'saving' } | { is: 'unsaved' } | { is: 'failed'; why: string; final: boolean };

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
  selected: string = $state('');
  hovered: string | undefined = $state();
  /** Values on the shelf and the elements they feed light up together. */
  litPath: Path | undefined = $state.raw();
  /** The turn looked at, by loop. */
  turns: Record<string, number> = $state({});
  saving: SaveState = $state.raw({ is: 'saved' });
  private done: Edit[] = $state.raw([]);
  private undone: Edit[] = $state.raw([]);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private inFlight = false;
  private typing: { place: string; at: number } | undefined;

  index: ModelIndex = $derived(indexModel(this.model));
  tree: Tree = $derived(this.template.tree);
  typeId: string = $derived(typeOf(this.template) ?? '');
  scopes: Scopes = $derived(scopesOf(this.template));
  compiled: CompiledTree = $derived(compileTree(this.tree, this.scopes, this.index, { studio: true }));
  /** The records that can be flipped through. */
  strip: ContentRecord[] = $derived(this.records.filter((record) => record.typeId === this.typeId));
  record: ContentRecord | undefined = $derived(
    this.strip.find((record) => record.id === this.recordId) ?? this.strip[0],
  );
  /** What visitors can see, so that lists and relations on the canvas are those of the site. */
  pool = $derived(memoryPool(this.records, this.media, false));
  drawing: Drawing = $derived(this.draw());
  uses: Use[] = $derived(usesOf(this.tree));
  looseEnds: LooseEnd[] = $derived([...this.compiled.looseEnds, ...headingOrder(this.tree)]);
  rows = $derived(walk(this.tree));
  undoLabel: string | undefined = $derived(this.done.at(-1)?.label);
  redoLabel: string | undefined = $derived(this.undone.at(-1)?.label);

  constructor(data: WorkbenchData) {
    this.model = data.model;
    this.records = data.records;
    this.media = data.media;
    this.partial = data.partial;
    this.template = data.template;
    this.selected = data.template.tree.root;
    this.recordId = this.strip[0]?.id;
  }

  /** The environment of the page on screen, with no loop entered. */
  freshEnv(): Env {
    const type = this.index.type(this.typeId);
    return makeEnv({
      model: this.index,
      pool: this.pool,
      today: localDay(new Date(), this.model.site.timeZone),
      ...(this.template.purpose === 'record'
        ? { record: this.record }
        : { archive: type && { type, page: this.page } }),
    });
  }

  private draw(): Drawing {
    const fates = new Map<string, Fates>();
    const env = this.freshEnv();
    env.trace = (id: string, fate: Fate) => {
      let seen = fates.get(id);
      if (!seen) fates.set(id, (seen = { drawn: 0, rule: 0, empty: 0 }));
      seen[fate]++;
    };
    return { html: this.compiled.draw(env), fates, env };
  }

  /** An environment inside the loops of a scope, at the turns looked at. */
  envAt(scopes: Scopes): Env {
    const env = this.freshEnv();
    for (const scope of scopes.loops) {
      const loop = this.compiled.elements.get(scope.id)?.loop;
      if (!loop) continue;
      const list = env.pool.list(loop, env);
      const at = Math.min(this.turns[scope.id] ?? 0, list.records.length - 1);
      const record = list.records[at];
      if (record)
        env.turns[scope.depth] = {
          record,
          position: (list.page - 1) * (loop.perPage ?? 0) + at + 1,
          results: list.total,
        };
    }
    return env;
  }

  element(id: string): Element | undefined {
    return this.tree.elements[id];
  }

  compiledOf(id: string): CompiledElement | undefined {
    return this.compiled.elements.get(id);
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
    this.settle(applied.value.tree);
    return true;
  }

  undo(): void {
    this.typing = undefined;
    const edit = this.done.at(-1);
    const applied = edit && applyEdit(this.tree, edit);
    if (!applied?.ok) return;
    this.done = this.done.slice(0, -1);
    this.undone = [...this.undone, applied.value.inverse];
    this.settle(applied.value.tree);
  }

  redo(): void {
    const edit = this.undone.at(-1);
    const applied = edit && applyEdit(this.tree, edit);
    if (!applied?.ok) return;
    this.undone = this.undone.slice(0, -1);
    this.done = [...this.done, applied.value.inverse];
    this.settle(applied.value.tree);
  }

  private settle(tree: Tree): void {
    this.template = { ...this.template, tree };
    if (!tree.elements[this.selected]) this.selected = tree.root;
    this.saveSoon();
  }

  rename(name: string): void {
    if (!name.trim() || name.trim() === this.template.name) return;
    this.template = { ...this.template, name: name.trim() };
    this.saveSoon();
  }

  /** Puts a piece at a place and selects it. */
  insert(label: string, piece: Piece, parent: string, index: number): void {
    if (this.edit(label, { do: 'insert', parent, index, piece })) this.selected = piece.top;
  }

  remove(id: string): void {
    const place = parentOf(this.tree, id);
    if (!place) return;
    const next = place.parent.children[place.index + 1] ?? place.parent.children[place.index - 1] ?? place.parent.id;
    if (this.edit(`Removed ${this.nameOf(id)}`, { do: 'remove', id })) this.selected = next;
  }

  duplicate(id: string): void {
    const place = parentOf(this.tree, id);
    if (place)
      this.insert(
        `Duplicated ${this.nameOf(id)}`,
        freshPiece(pieceOf(this.tree, id)),
        place.parent.id,
        place.index + 1,
      );
  }

  /** Where a new thing goes when no place was pointed at: into the selected element, or after it. */
  placeForNew(): { parent: string; index: number } {
    const selected = this.tree.elements[this.selected];
    if (selected && elementNamed(selected.kind)?.holds) return { parent: selected.id, index: selected.children.length };
    const place = parentOf(this.tree, this.selected);
    if (place) return { parent: place.parent.id, index: place.index + 1 };
    return { parent: this.tree.root, index: this.tree.elements[this.tree.root]?.children.length ?? 0 };
  }

  /** What stands in an element's first text, where that is fixed. */
  wordsOf(id: string): string | undefined {
    const fixed = Object.values(this.tree.elements[id]?.slots ?? {}).find(
      (slot) => 'fixed' in slot && typeof slot.fixed === 'string',
    );
    return fixed && 'fixed' in fixed ? String(fixed.fixed) : undefined;
  }

  /** The name of an element: the designer's, or its kind with what it is bound to. */
  nameOf(id: string): string {
    const element = this.tree.elements[id];
    if (!element) return 'an element';
    const kind = elementNamed(element.kind);
    return element.name || kind?.label || element.kind;
  }

  flip(by: 1 | -1): void {
    if (this.template.purpose === 'archive') {
      const pages = this.drawing.env.paging?.pages ?? 1;
      this.page = Math.min(pages, Math.max(1, this.page + by));
      return;
    }
    const at = this.strip.findIndex((record) => record.id === this.record?.id);
    const next = this.strip[(at + by + this.strip.length) % this.strip.length];
    if (next) this.recordId = next.id;
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
    try {
      const { template } = await send<{ template: Template }>('PUT', `/api/templates/${sent.id}`, sent);
      const moved = this.template !== sent;
      this.template = { ...this.template, version: template.version };
      this.saving = moved ? { is: 'unsaved' } : { is: 'saved' };
      if (moved) this.timer = setTimeout(() => void this.save(), SAVE_AFTER);
    } catch (error) {
      const failed = error as RequestFailed;
      const final = failed.status === 409 || failed.status === 404;
      this.saving = { is: 'failed', why: failed.problems?.[0]?.what ?? failed.message, final };
      if (!final) this.timer = setTimeout(() => void this.save(), RETRY_AFTER);
    } finally {
      this.inFlight = false;
    }
  }
}
