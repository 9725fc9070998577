import { freshVersion, versionKnown } from '../database/version';
import { countersNow, versionOf, writtenSince, type Counters, type Written } from './changes';
import { keysOf } from './reads';

/** What was written between two states of the content. */
export type Went = readonly Written[] | 'everything';

interface State {
  /** The address of the database. */
  of: string;
  version: string;
  counters: Counters;
  /** When it was found out, in milliseconds of this process. */
  at: number;
}

/** Changes are noted for an hour; who has not looked for half of that knows nothing. */
const TOO_LATE = 30 * 60_000;
/** So many steps are remembered, for what was begun before them. */
const STEPS = 64;

const unknown = (): State => ({ of: '', version: '', counters: new Map(), at: 0 });
let state = unknown();
let steps: { from: string; keys: ReadonlySet<string> | 'everything' }[] = [];
const followers: ((went: Went) => void)[] = [];
let catchingUp: Promise<void> | undefined;

/** Tells from now on what was written, before anybody here is told of the state after it. */
export const follow = (follower: (went: Went) => void): void => void followers.push(follower);

/** Whether this is the state that all followers were told of. */
export const isFollowed = (version: string | undefined): boolean =>
  version !== undefined && version === state.version && state.of === process.env.PLUM_DATABASE;

/** The state that was asked for a moment ago, where all followers were told of it. */
export function followedKnown(): string | undefined {
  const version = versionKnown();
  if (!isFollowed(version)) return undefined;
  state.at = performance.now();
  return version;
}

/** What state the content is in, once everybody was told what was written until then. */
export async function followed(): Promise<string> {
  const version = await freshVersion();
  // Whoever is at it may have asked before this was written.
  while (!isFollowed(version)) {
    const before = catchingUp;
    await (catchingUp ??= catchUp().finally(() => (catchingUp = undefined)));
    if (!before) break;
  }
  state.at = performance.now();
  return state.version;
}

async function catchUp(): Promise<void> {
  const of = process.env.PLUM_DATABASE ?? '';
  const at = performance.now();
  const counters = await countersNow();
  // Counters that go back are those of another database, such as one that was put back from a copy.
  const goesOn =
    state.of === of &&
    at - state.at < TOO_LATE &&
    [...state.counters].every(([shard, n]) => (counters.get(shard) ?? 0) >= n);
  const version = versionOf(counters);
  if (goesOn && version === state.version) {
    state.at = at;
    return;
  }
  const went = goesOn ? await writtenSince(state.counters) : 'everything';
  steps.push({ from: state.version, keys: went === 'everything' ? went : keysOf(went) });
  steps = steps.slice(-STEPS);
  for (const follower of followers) follower(went);
  state = { of, version, counters, at };
}

/** Whether anything that has one of these keys was written since a state; true where that is not known. */
export function isWrittenSince(version: string, keys: ReadonlySet<string>): boolean {
  if (isFollowed(version)) return false;
  const first = steps.findIndex(({ from }) => from === version);
  if (first < 0) return true;
  return steps.slice(first).some((step) => step.keys === 'everything' || [...step.keys].some((key) => keys.has(key)));
}

/** Begins anew: everything is told of next. */
export function followAnew(): void {
  state = unknown();
  steps = [];
}
