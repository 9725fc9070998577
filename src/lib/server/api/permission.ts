import { atLeast } from '../../core/people/roles';
import { noteActivity } from '../people/activity';
import { isOwn } from '../people/own';
import { madeBy } from '../queries/own';
import { Refusal } from '../refusal';
import type { Asker, Operation } from './operation';

/** Whether somebody may ask for an operation at all, whatever it is asked over; screens offer no other. */
export const mayAsk = (one: Pick<Operation, 'who'>, who: Asker): boolean => atLeast(who.role, one.who);

/** Refuses whoever may not; the same for what exists and what does not. */
export async function permit(one: Operation, params: Record<string, string>, who: Asker): Promise<void> {
  if (who.token !== undefined) {
    if (one.person) throw new Refusal(403, 'This is only for people who are signed in, not for tokens.');
    if (!who.scopes?.tags.includes(one.tag)) throw new Refusal(403, `This token is not for ${one.tag}.`);
    if (who.scopes.readOnly && one.method !== 'GET' && !one.asks) throw new Refusal(403, 'This token may only read.');
  }
  if (!mayAsk(one, who)) throw new Refusal(403, 'Your account may not do this.');
  if (one.over && !atLeast(who.role, 'editor') && !(await isOwn(one.over, params, who.id)))
    throw new Refusal(403, 'Your account may do this only with what is its own.');
  if (one.fresh && !who.fresh) throw new Refusal(403, 'Show once more that it is you.', [], { confirm: true });
}

/** What things are called in the activity, by the collection that they stand in. */
const SUBJECTS: Record<string, string> = {
  records: 'record',
  types: 'type',
  templates: 'template',
  taxonomies: 'taxonomy',
  terms: 'term',
  authors: 'author',
  media: 'media',
  rules: 'rule',
  menus: 'menu',
  releases: 'release',
  people: 'account',
};

interface Done {
  params: Record<string, string>;
  body: unknown;
  before: unknown;
  result: unknown;
}

type Named = Partial<Record<'id' | 'title' | 'name' | 'removal' | 'what' | 'version', unknown>> & { ids?: unknown[] };
const named = (value: unknown): Named => (typeof value === 'object' && value !== null ? (value as Named) : {});

/** Work at the same thing is one entry of the activity for so many minutes. */
const GOES_ON = 10;

/** Notes what was done, where an operation says that it is worth it; whose a removal is. */
export async function noteDone(one: Operation, who: Asker, { params, body, before, result }: Done): Promise<void> {
  const [was, made, asked] = [named(before), named(result), named(body)];
  if (typeof made.removal === 'string') await madeBy('removals', [made.removal], who.id);
  if (!one.did) return;
  const [kind = ''] = one.path.split('/').filter(Boolean);
  const subject = SUBJECTS[kind];
  const own = Object.entries(params).find(([key]) => key === `${subject}Id`)?.[1];
  const id = own ?? (one.status === 201 ? made.id : undefined);
  const text = (...all: unknown[]) => all.find((one) => typeof one === 'string') as string | undefined;
  const name = text(made.title, made.name, was.title, was.name) ?? own ?? '';
  await noteActivity({
    by: who,
    via: who.token === undefined ? 'screen' : 'API',
    operation: one.id,
    what: one.did
      .replace('{name}', () => name)
      .replace('{n}', String(asked.ids?.length ?? ''))
      .replace('{what}', () => text(made.what) ?? ''),
    ...(subject && id !== undefined && { subject: `${subject} ${String(id as string | number)}` }),
    ...(one.goesOn && { goesOn: GOES_ON }),
  });
}
