import type { Transaction } from 'sequelize';
import { accountNames } from '../../queries/accounts';

interface Cells {
  get(name: string): string | null;
  set(name: string, value: string | null): void;
}

interface Own {
  id: number;
  email: string;
  handle: string;
}

/**
 * Which account here is which of a backup. Whoever is here already stays as they are, and is the one of the same address or handle in the backup; all
 * others come with their number, or another one where it is taken.
 */
export class AccountNumbers {
  private readonly numbers = new Map<string, string>();
  private next: number;

  constructor(private readonly own: readonly Own[]) {
    this.next = Math.max(0, ...own.map(({ id }) => id));
  }

  /** Takes an account of the backup in, with the number that it is to have; false where it is here already. */
  add(cells: Cells): boolean {
    const [id, email, handle] = [cells.get('id') ?? '', cells.get('email'), cells.get('handle')];
    const here = this.own.find((one) => one.email === email || one.handle === handle);
    if (here) {
      this.numbers.set(id, String(here.id));
      return false;
    }
    const taken = this.own.some((one) => String(one.id) === id);
    const number = taken ? String((this.next = Math.max(this.next, 1_000_000) + 1)) : id;
    this.numbers.set(id, number);
    cells.set('id', number);
    return true;
  }

  numberOf(id: string | null): string | null {
    return id === null ? null : (this.numbers.get(id) ?? null);
  }
}

export const accountNumbers = async (transaction: Transaction): Promise<AccountNumbers> =>
  new AccountNumbers(await accountNames(transaction));
