import { elementNamed } from '$lib/core/elements';
import { branchEdit } from '$lib/core/templates/branches';
import { pieceFrom } from '$lib/core/templates/build';
import type { TreeOperation } from '$lib/core/templates/edits';
import { unwrapping, wrapping } from '$lib/core/templates/arrange';
import { shared } from '$lib/core/templates/part';
import { freshPiece, parentOf, pieceOf, type Piece } from '$lib/core/templates/tree';
import type { Path } from '$lib/core/schema/path';
import type { Tree } from '$lib/core/schema/element';
import type { Template } from '$lib/core/schema/template';
import type { ModelIndex } from '$lib/core/model/model-index';
import type { Scopes, ValueType } from '$lib/core/paths/scopes';
import { repeatInPlace } from '$lib/core/templates/landing';
import type { Api } from '$lib/client/api';
import { api as studioApi } from '../../base/api';
import { failureWords } from '../../base/request';
import type { Selection } from './selection.svelte';

export interface CommandsHost {
  readonly tree: Tree;
  readonly index: ModelIndex;
  readonly selection: Selection;
  parts: Template[];
  notice: string;
  /** Opens the tab where the first decision about something new is made. */
  begin(id: string): void;
  edit(label: string, ...operations: TreeOperation[]): boolean;
  nameOf(id: string): string;
  scopesAt(id: string): Scopes;
}

/** What designers do to the tree: each is one edit, and leaves selected what it was about. */
export class Commands {
  constructor(
    private readonly host: CommandsHost,
    private readonly api: Api = studioApi,
  ) {}

  private get chosen(): string[] {
    return this.host.selection.chosen;
  }

  /** What is selected in words, such as “Facts” or “3 elements”. */
  private get whatIsChosen(): string {
    return this.chosen.length === 1 ? this.host.nameOf(this.chosen[0] as string) : `${this.chosen.length} elements`;
  }

  /** Puts a piece at a place and selects it. */
  insert(label: string, piece: Piece, parent: string, index: number): void {
    if (!this.host.edit(label, { do: 'insert', parent, index, piece })) return;
    this.host.selection.select(piece.top);
    this.host.begin(piece.top);
  }

  /** Where a new thing goes when no place was pointed at: into the selected element, or after it. */
  placeForNew(): { parent: string; index: number } {
    const { tree, selection } = this.host;
    const selected = tree.elements[selection.id];
    if (selected && elementNamed(selected.kind)?.holds) return { parent: selected.id, index: selected.children.length };
    const place = parentOf(tree, selection.id);
    if (place) return { parent: place.parent.id, index: place.index + 1 };
    return { parent: tree.root, index: tree.elements[tree.root]?.children.length ?? 0 };
  }

  wrap(kind: string): void {
    const made = wrapping(this.host.tree, this.chosen, kind);
    const label = elementNamed(kind)?.label.toLowerCase() ?? kind;
    if (made && this.host.edit(`Put ${this.whatIsChosen} into a ${label}`, ...made.operations))
      this.host.selection.select(made.id);
  }

  unwrap(id: string): void {
    const operations = unwrapping(this.host.tree, id);
    const first = this.host.tree.elements[id]?.children[0];
    const label = `Took ${this.host.nameOf(id)} away from around what it holds`;
    if (operations && this.host.edit(label, ...operations) && first) this.host.selection.select(first);
  }

  /** Removes everything that is selected. */
  remove(): void {
    const { tree, selection } = this.host;
    const [first] = this.chosen;
    const place = first ? parentOf(tree, first) : undefined;
    if (!place) return;
    const gone = new Set(this.chosen);
    const left = place.parent.children.filter((id) => !gone.has(id));
    const next = left[Math.min(place.index, left.length - 1)] ?? place.parent.id;
    const operations = this.chosen.map((id): TreeOperation => ({ do: 'remove', id }));
    if (this.host.edit(`Removed ${this.whatIsChosen}`, ...operations)) selection.select(next);
  }

  /** A copy of each selected element after it. */
  duplicate(): void {
    const { tree, selection } = this.host;
    const pieces = this.chosen.map((id) => ({ id, piece: freshPiece(pieceOf(tree, id)) }));
    // From the last to the first, so that places stay where they were.
    const operations = [...pieces].reverse().flatMap(({ id, piece }): TreeOperation[] => {
      const place = parentOf(tree, id);
      return place ? [{ do: 'insert', parent: place.parent.id, index: place.index + 1, piece }] : [];
    });
    if (!operations.length || !this.host.edit(`Duplicated ${this.whatIsChosen}`, ...operations)) return;
    selection.select(pieces[0]?.piece.top ?? selection.id);
    selection.also = pieces.slice(1).map(({ piece }) => piece.top);
  }

  /** Moves the selected element among those beside it, out of what holds it, or into what stands before it. */
  move(to: 'up' | 'down' | 'out' | 'in'): void {
    const { tree, selection } = this.host;
    const { id } = selection;
    const place = parentOf(tree, id);
    if (!place) return;
    const label = `Moved ${this.host.nameOf(id)}`;
    const move = (parent: string, index: number) => this.host.edit(label, { do: 'move', id, parent, index });
    if (to === 'up' && place.index > 0) move(place.parent.id, place.index - 1);
    if (to === 'down' && place.index < place.parent.children.length - 1) move(place.parent.id, place.index + 1);
    const above = parentOf(tree, place.parent.id);
    if (to === 'out' && above) move(above.parent.id, above.index + 1);
    const before = tree.elements[place.parent.children[place.index - 1] ?? ''];
    if (to === 'in' && before && elementNamed(before.kind)?.holds) move(before.id, before.children.length);
  }

  /** Puts a branch for each answer of a value into alternatives, as far as there is none. */
  branch(id: string, path: Path, type: ValueType): void {
    const { tree, index: model } = this.host;
    const edit = branchEdit({ tree, scopes: this.host.scopesAt(id), model }, id, path, type);
    if (edit) this.host.edit(edit.label, ...edit.operations);
    else this.host.notice = `There is a branch for each ${type.label} already.`;
  }

  /** Puts what repeats over the values at a path in the place of an element, with its name, rule and looks. */
  repeatInPlace(id: string, path: Path, type: ValueType): void {
    const { tree, index } = this.host;
    const made = repeatInPlace({ tree, index, scopesAt: (at) => this.host.scopesAt(at) }, id, path, type);
    if (made && this.host.edit(`Repeated over ${type.label}`, ...made.operations))
      this.host.selection.select(made.select);
  }

  /** Makes a part of an element that other templates can place too, and puts the part in its place here. */
  async share(id: string): Promise<void> {
    const place = parentOf(this.host.tree, id);
    if (!place) return;
    const name = this.host.nameOf(id);
    const made = shared(pieceOf(this.host.tree, id), this.host.scopesAt(id), this.host.index);
    if (!made.ok) {
      this.host.notice = [made.problems[0]?.what, made.problems[0]?.fix].filter(Boolean).join(' ');
      return;
    }
    try {
      const { tree, typeId } = made.value;
      const part = await this.api('POST /templates', { body: { name, purpose: 'part', tree, typeId } });
      this.host.parts = [...this.host.parts, part];
      const piece = pieceFrom({ kind: 'part', name, props: { part: part.id } });
      const now = parentOf(this.host.tree, id) ?? place;
      this.host.edit(
        `Made a part of ${name}`,
        { do: 'remove', id },
        { do: 'insert', parent: now.parent.id, index: now.index, piece },
      );
      this.host.selection.select(piece.top);
    } catch (error) {
      this.host.notice = failureWords(error);
    }
  }
}
