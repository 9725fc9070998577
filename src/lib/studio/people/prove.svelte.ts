import { RequestFailed, send } from '../request';

/** What was asked for and waits until it is proved who asks. */
interface Waiting {
  again: () => void;
  given: () => void;
}

/** Asks for the password once more where the server wants it, and then for the same thing again. */
export class Prove {
  waiting = $state<Waiting>();

  /** Does some work; where it is refused until it is proved who asks, it is done again after that. Undefined where that was given up. */
  async through<T>(work: () => Promise<T>): Promise<T | undefined> {
    try {
      return await work();
    } catch (failure) {
      if (!(failure instanceof RequestFailed) || failure.status !== 403 || failure.more.confirm !== true) throw failure;
    }
    const proved = await new Promise<boolean>((done) => {
      this.waiting = { again: () => done(true), given: () => done(false) };
    });
    this.waiting = undefined;
    return proved ? work() : undefined;
  }

  async confirm(password: string): Promise<void> {
    await send('POST', '/api/v1/account/confirm', { password });
    this.waiting?.again();
  }
  giveUp(): void {
    this.waiting?.given();
  }
}
