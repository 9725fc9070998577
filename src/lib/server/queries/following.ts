import { freshVersion, versionKnown } from '../database/version';
import { countersNow, versionOf, writtenSince, type Counters, type Written } from './changes';
import { keysOf } from './reads';
import { perServer } from '../base/server';

/** What was written between two states of the content. */
export type Went = readonly Written[] | 'everything';

interface State {
  version: string;
  counters: Counters;
  /** When it was found out, in milliseconds of this process. */
  at: number;
}

/** Changes are noted for an hour; who has not looked for half of that knows nothing. */
const TOO_LATE = 30 * 60_000;
/** So many steps are remembered, for what was begun before them. */
const STEPS = 64;

const unknown = (): State => ({ version: '', counters: new Map(), at: 0 });

interface Following {
  state: State;
  steps: { from: string; keys: ReadonlySet<string> | 'everything' }[];
  followers: ((went: Went) => void)[];
  catchingUp: Promise<void> | undefined;
}
const following = perServer((): Following => ({ state: unknown(), steps: [], followers: [], catchingUp: undefined }));

/** Tells from now on what was written, before anybody here is told of the state after it. */
export const follow = (follower: (went: Went) => void): void => void following().followers.push(follower);

/** Whether this is the state that all followers were told of. */
export const isFollowed = (version: string | undefined): boolean =>
  version !== undefined && version === following().state.version;

/** The state that was asked for a moment ago, where all followers were told of it. */
export function followedKnown(): string | undefined {
  const version = versionKnown();
  if (!isFollowed(version)) return undefined;
  following().state.at = performance.now();
  return version;
}

/** What state the content is in, once everybody was told what was written until then. */
export async function followed(): Promise<string> {
  const own = following();
  const version = await freshVersion();
  // Whoever is at it may have asked before this was written.
  while (!isFollowed(version)) {
    const before = own.catchingUp;
    await (own.catchingUp ??= catchUp(own).finally(() => (own.catchingUp = undefined)));
    if (!before) break;
  }
  own.state.at = performance.now();
  return own.state.version;
}

async function catchUp(own: Following): Promise<void> {
  const { state } = own;
  const at = performance.now();
  const counters = await countersNow();
  // Counters that go back are those of another database, such as one that was put back from a copy.
  const goesOn =
    state.version !== '' &&
    at - state.at < TOO_LATE &&
    [...state.counters].every(([shard, n]) => (counters.get(shard) ?? 0) >= n);
  const version = versionOf(counters);
  if (goesOn && version === state.version) {
    state.at = at;
    return;
  }
  const went = goesOn ? await writtenSince(state.counters) : 'everything';
  own.steps.push({ from: state.version, keys: went === 'everything' ? went : keysOf(went) });
  own.steps = own.steps.slice(-STEPS);
  for (const follower of own.followers) follower(went);
  own.state = { version, counters, at };
}

/** Whether anything that has one of these keys was written since a state; true where that is not known. */
export function isWrittenSince(version: string, keys: ReadonlySet<string>): boolean {
  if (isFollowed(version)) return false;
  const { steps } = following();
  const first = steps.findIndex(({ from }) => from === version);
  if (first < 0) return true;
  return steps.slice(first).some((step) => step.keys === 'everything' || [...step.keys].some((key) => keys.has(key)));
}

/** Begins anew: everything is told of next. */
export function followAnew(): void {
  Object.assign(following(), { state: unknown(), steps: [] });
}
