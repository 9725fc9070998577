/** Pages of an export; records beyond are left out, and told. */
export const MOST_PAGES = 300_000;

/** Addresses of the pages to draw: drawn pages lead to more of them, so that the list grows meanwhile. */
export class PageList {
  private readonly known: Set<string>;

  constructor(
    private readonly addresses: string[],
    private readonly left: Set<string>,
  ) {
    this.known = new Set(addresses);
  }

  get length(): number {
    return this.addresses.length;
  }

  slice(from: number, to: number): string[] {
    return this.addresses.slice(from, to);
  }

  /** Adds what is not in it yet, up to as many pages as an export may have. */
  add(addresses: readonly string[]): void {
    for (const address of addresses) {
      if (this.known.has(address)) continue;
      if (this.addresses.length >= MOST_PAGES) {
        this.left.add(
          `There are more than ${MOST_PAGES.toLocaleString('en')} pages; further pages of lists are left out.`,
        );
        return;
      }
      this.known.add(address);
      this.addresses.push(address);
    }
  }
}
