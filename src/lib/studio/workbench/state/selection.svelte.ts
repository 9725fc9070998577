import { SvelteSet } from 'svelte/reactivity';
import type { Tree } from '$lib/core/schema/element';
import type { TreeOperation } from '$lib/core/templates/edits';
import { topmost } from '$lib/core/templates/arrange';
import { parentOf, walk } from '$lib/core/templates/tree';

/** What of a tree is selected, pointed at and folded. */
export class Selection {
  /** The one whose settings stand in the dock. */
  id: string = $state('');
  /** What is selected beside it. */
  also: string[] = $state.raw([]);
  hovered: string | undefined = $state();
  /** Elements whose children the outline does not list. */
  readonly folded = new SvelteSet<string>();
  rows = $derived.by(() => walk(this.host.tree));
  /** What the outline lists: everything that stands in nothing folded. */
  listed = $derived(
    this.folded.size ? this.rows.filter(({ above }) => !above.some((id) => this.folded.has(id))) : this.rows,
  );
  /** Everything that is selected, without what stands in something selected; the root only by itself. */
  chosen: string[] = $derived.by(() => {
    const { tree } = this.host;
    if (this.also.length) return topmost(tree, [this.id, ...this.also]);
    return this.id === tree.root ? [] : [this.id];
  });

  constructor(private readonly host: { readonly tree: Tree }) {}

  /** Selects one element, or adds it to what is selected, or takes it out again. */
  select(id: string, more = false): void {
    const { root } = this.host.tree;
    if (!more || id === root || this.id === root) {
      this.id = id;
      this.also = [];
    } else if (id === this.id) {
      const [next, ...rest] = this.also;
      if (next) [this.id, this.also] = [next, rest];
    } else if (this.also.includes(id)) this.also = this.also.filter((one) => one !== id);
    else this.also = [...this.also, id];
  }

  /** Selects the element before or after the selected one, in reading order. */
  step(by: 1 | -1): void {
    const at = this.rows.findIndex(({ element }) => element.id === this.id);
    const next = this.rows[at + by]?.element.id;
    if (next) this.select(next);
  }

  parent(): void {
    const above = parentOf(this.host.tree, this.id);
    if (above) this.select(above.parent.id);
  }

  /** Unfolds everything that an element stands in. */
  reveal(id: string): void {
    if (!this.folded.size) return;
    for (const above of this.rows.find(({ element }) => element.id === id)?.above ?? []) this.folded.delete(above);
  }

  /** Lets go of what is gone after a change; in its place comes what the change brought. */
  follow(operations: readonly TreeOperation[]): void {
    const { tree } = this.host;
    if (!tree.elements[this.id]) {
      const brought = operations.findLast((one) => one.do === 'insert');
      this.id = brought?.do === 'insert' ? brought.piece.top : tree.root;
    }
    if (this.also.length) this.also = this.also.filter((id) => tree.elements[id]);
  }
}
