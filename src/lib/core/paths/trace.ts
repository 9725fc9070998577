/** What became of an element in one place of a drawing: on the page, hidden by its rule, or left out as nothing fills it. */
export type Fate = 'drawn' | 'rule' | 'empty';

/** What became of an element in one drawing, over all turns it stands in. */
export type Fates = Record<Fate, number>;

/** What became of each element while a page was drawn, in the order in which that was known: what holds others comes after them. */
export class Trace {
  private readonly ids: string[] = [];
  private readonly fates: Fate[] = [];

  /** A place to go back to. */
  get now(): number {
    return this.ids.length;
  }

  add(id: string, fate: Fate): void {
    this.ids.push(id);
    this.fates.push(fate);
  }

  /** What was drawn since then came to nothing, since what it stands in is left out. */
  drop(since: number): void {
    for (let i = since; i < this.fates.length; i++) if (this.fates[i] === 'drawn') this.fates[i] = 'empty';
  }

  tally(): Map<string, Fates> {
    const found = new Map<string, Fates>();
    for (const [i, id] of this.ids.entries()) {
      let seen = found.get(id);
      if (!seen) found.set(id, (seen = { drawn: 0, rule: 0, empty: 0 }));
      seen[this.fates[i] as Fate]++;
    }
    return found;
  }

  /** The elements that are on the page at least once. */
  drawn(): Set<string> {
    return new Set(this.ids.filter((_, i) => this.fates[i] === 'drawn'));
  }
}
