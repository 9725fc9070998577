import { applyEdit, type Edit, type TreeOperation } from '$lib/core/templates/edits';
import type { Tree } from '$lib/core/schema/element';

/** Typing at one place goes into one edit, as long as no longer than this passes between two letters, in milliseconds. */
const TOGETHER = 1500;

export interface HistoryHost {
  readonly tree: Tree;
  /** Takes a tree over, with what led to it from the one before. */
  settle(tree: Tree, label: string, operations: readonly TreeOperation[]): void;
}

/** What was done to a tree, and what takes it back. Every change of the tree goes through here. */
export class History {
  done: Edit[] = $state.raw([]);
  undone: Edit[] = $state.raw([]);
  undoLabel: string | undefined = $derived(this.done.at(-1)?.label);
  redoLabel: string | undefined = $derived(this.undone.at(-1)?.label);
  private typing: { place: string; at: number } | undefined;

  constructor(
    private readonly host: HistoryHost,
    private readonly now: () => number = Date.now,
  ) {}

  /** Applies an edit as a whole, and keeps what takes it back. Returns false where it cannot be applied. */
  edit(label: string, ...operations: TreeOperation[]): boolean {
    const applied = applyEdit(this.host.tree, { label, operations });
    if (!applied.ok) return false;
    const [only] = operations;
    const place =
      only?.do === 'put' && operations.length === 1 ? `${label} ${only.id} ${only.at.join('.')}` : undefined;
    const at = this.now();
    if (!place || place !== this.typing?.place || at - this.typing.at > TOGETHER)
      this.done = [...this.done, applied.value.inverse];
    this.typing = place === undefined ? undefined : { place, at };
    this.undone = [];
    this.host.settle(applied.value.tree, label, operations);
    return true;
  }

  undo(): void {
    this.typing = undefined;
    const edit = this.done.at(-1);
    const applied = edit && applyEdit(this.host.tree, edit);
    if (!edit || !applied?.ok) return;
    this.done = this.done.slice(0, -1);
    this.undone = [...this.undone, applied.value.inverse];
    this.host.settle(applied.value.tree, `Undid: ${applied.value.inverse.label}`, edit.operations);
  }

  redo(): void {
    const edit = this.undone.at(-1);
    const applied = edit && applyEdit(this.host.tree, edit);
    if (!edit || !applied?.ok) return;
    this.undone = this.undone.slice(0, -1);
    this.done = [...this.done, applied.value.inverse];
    this.host.settle(applied.value.tree, applied.value.inverse.label, edit.operations);
  }

  /** Undoes or redoes until so many edits are done. */
  goTo(count: number): void {
    const step = (move: () => void) => {
      const before = this.done.length;
      move();
      return this.done.length !== before;
    };
    while (this.done.length > count && step(() => this.undo()));
    while (this.done.length < count && step(() => this.redo()));
  }
}
