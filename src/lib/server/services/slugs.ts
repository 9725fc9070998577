import type { Transaction } from 'sequelize';
import { slugsNumbered, slugsTaken } from '../queries/records';

/** Knows which slugs of a type are taken, also by records that are about to be written in the same transaction. */
export class SlugBook {
  private readonly taken = new Set<string>();
  private readonly asked = new Set<string>();
  private readonly next = new Map<string, number>();

  /** `own` is a record whose slug does not count as taken. */
  constructor(
    private readonly typeId: string,
    private readonly own = 0,
  ) {}

  /** Asks about many slugs at once. */
  async ask(slugs: string[], transaction?: Transaction): Promise<void> {
    const open = slugs.filter((slug) => !this.asked.has(slug));
    if (!open.length) return;
    const taken = await slugsTaken(this.typeId, this.own, open, transaction);
    for (const slug of open) this.asked.add(slug);
    for (const slug of taken) this.taken.add(slug);
  }

  /** The slug itself if it is free, and taken from now on. */
  async exactly(slug: string, transaction?: Transaction): Promise<string | undefined> {
    await this.ask([slug], transaction);
    if (this.taken.has(slug)) return undefined;
    this.taken.add(slug);
    return slug;
  }

  /** The slug, with a number after it where needed. */
  async free(wanted: string, transaction?: Transaction): Promise<string> {
    const base = wanted === 'page' ? 'page-record' : wanted;
    const itself = await this.exactly(base, transaction);
    if (itself) return itself;
    let n = this.next.get(base);
    if (n === undefined) {
      n = 2;
      for (const slug of await slugsNumbered(this.typeId, this.own, base, transaction)) this.taken.add(slug);
    }
    while (this.taken.has(`${base}-${n}`)) n++;
    this.next.set(base, n + 1);
    this.taken.add(`${base}-${n}`);
    return `${base}-${n}`;
  }
}
