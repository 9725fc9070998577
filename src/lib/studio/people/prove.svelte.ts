import { invalidateAll } from '$app/navigation';
import type { Problem } from '$lib/core/base/result';
import { failureWords, RequestFailed } from '../base/request';
import { api } from '../base/api';

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
    await api('POST /account/confirm', { body: { password } });
    this.waiting?.again();
  }
  giveUp(): void {
    this.waiting?.given();
  }
}

/** What is done at a screen about people: proved where the server wants it, with what came of it in words. */
export class Doing {
  readonly prove = new Prove();
  said = $state('');
  failed = $state('');
  problems = $state.raw<Problem[]>([]);

  /** Does something, says so in these words, and reads the screen anew; where it fails, that is said. */
  act = async (work: () => Promise<unknown>, words: string): Promise<void> => {
    this.said = this.failed = '';
    this.problems = [];
    try {
      const done = await this.prove.through(async () => {
        await work();
        return true;
      });
      if (!done) return;
      this.said = words;
      await invalidateAll();
    } catch (failure) {
      if (failure instanceof RequestFailed) this.problems = failure.problems;
      this.failed = failureWords(failure);
    }
  };
}
