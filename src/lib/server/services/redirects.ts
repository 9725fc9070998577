import { decodedPath } from '../../core/addresses/decoded';
import { z } from 'zod';
import { problem, type Problem } from '../../core/base/result';
import { inTransaction } from '../database/connect';
import { lockRedirects, removeRedirect, searchRedirects, writeRedirects, type Redirect } from '../queries/redirects';
import { notFound, Refusal } from '../base/refusal';

const MOST = 100_000;

const Line = z.strictObject({
  path: z
    .string()
    .trim()
    .max(500, { error: 'An address has 500 characters at most.' })
    .regex(/^\/(?!\/)[^\s?#]*$/, { error: 'This is the path of an address of this site, such as /old/page.' }),
  target: z
    .string()
    .trim()
    .max(2000)
    .regex(/^(https?:\/\/[^\s/]+|\/(?![/\\]))[^\s]*$/i, { error: 'It leads to a path of this site or to http(s)://…' }),
});
export const RedirectLines = z.array(Line).min(1, { error: 'There is nothing to add.' }).max(MOST);

/** A path in the form in which it is looked up: decoded, and without a slash at the end. */
export function settledPath(path: string): string {
  // What is no escape is meant as it is written.
  const plain = decodedPath(path) ?? path;
  return plain.length > 1 ? plain.replace(/\/+$/, '') || '/' : plain;
}

export async function readRedirects(words = '', limit = 200): Promise<{ redirects: Redirect[]; total: number }> {
  const like = `%${words.replace(/[\\%_]/g, '\\$&')}%`;
  return searchRedirects(like, limit);
}

/**
 * Writes down redirects, all or none; one from the same path goes. Those that would lead in a circle are refused with
 * the way round. Where one leads to another, visitors are sent to the end at once; see `redirectFrom` of the site.
 */
export async function addRedirects(input: z.output<typeof RedirectLines>): Promise<{ added: number }> {
  return inTransaction(async (transaction) => {
    const kept = await lockRedirects(transaction);
    const all = new Map(kept.map(({ path, target }) => [path, target]));
    const problems: Problem[] = [];
    const seen = new Map<string, number>();
    const lines = input.map(({ path, target }) => ({
      path: settledPath(path),
      target,
    }));
    for (const [i, { path, target }] of lines.entries()) {
      const before = seen.get(path);
      if (before !== undefined && lines[before]?.target !== target)
        problems.push(problem(`${i}`, `“${path}” leads to two places.`, 'Keep one of them.'));
      seen.set(path, i);
      all.set(path, target);
    }
    if (all.size > MOST) problems.push(problem('', `A site has ${MOST} redirects at most.`));
    for (const [i, { path }] of lines.entries()) {
      const circle = circleFrom(path, all);
      if (circle)
        problems.push(
          problem(`${i}`, `This leads in a circle: ${circle.join(' → ')}.`, 'Lead one of them somewhere else.'),
        );
    }
    if (problems.length) throw new Refusal(422, 'These redirects cannot be kept.', problems.slice(0, 50));
    const rows = [...seen.values()].map((i) => lines[i] as Redirect);
    await writeRedirects(rows, new Date(), transaction);
    return { added: rows.length };
  });
}

/** The part of a target that may be the path of another redirect, or of a page. */
export const nextOf = (target: string): string | undefined =>
  target.startsWith('/') ? settledPath(target.replace(/[?#].*$/, '')) : undefined;

function circleFrom(path: string, all: ReadonlyMap<string, string>): string[] | undefined {
  const way = [path];
  for (let at = nextOf(all.get(path) ?? ''); at !== undefined && all.has(at); at = nextOf(all.get(at) ?? '')) {
    way.push(at);
    if (at === path) return way;
    if (way.indexOf(at) < way.length - 1) return undefined;
  }
  return nextOf(all.get(way.at(-1) ?? '') ?? '') === path ? [...way, path] : undefined;
}

/** Deletes a redirect. Those that led to it lead where it led, so that none of them ends in nothing. */
export async function deleteRedirect(path: string): Promise<void> {
  await inTransaction(async (transaction) => {
    const all = await lockRedirects(transaction);
    const gone = all.find((one) => one.path === path);
    if (!gone) throw notFound('redirect from this address');
    const led = all.filter((one) => nextOf(one.target) === path && one.path !== nextOf(gone.target));
    await writeRedirects(
      led.map((one) => ({ ...one, target: gone.target })),
      new Date(),
      transaction,
    );
    await removeRedirect(path, transaction);
  });
}
