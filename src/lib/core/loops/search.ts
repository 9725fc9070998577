import { queryWords } from '../base/words';
import type { Env } from '../paths/env';
import type { CompiledLoop } from './compiled';

/** What a list searches for: what a visitor asks of it, or the words of the archive it goes over. */
export function searchOf(
  loop: CompiledLoop,
  env: Env,
): { words: readonly string[]; fieldIds?: readonly string[] } | undefined {
  if (loop.search) return loop.search;
  if (loop.source.from !== 'archive' || env.archive?.of !== 'search') return undefined;
  const words = queryWords(env.archive.words);
  return words.length ? { words } : undefined;
}
