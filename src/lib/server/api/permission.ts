import { atLeast } from '../../core/people/roles';
import { noteActivity } from '../people/activity';
import { isOwn } from '../people/own';
import { noteCreator } from '../queries/own';
import { Refusal } from '../base/refusal';
import type { AnyOperation } from './operation';
import type { Principal } from '../people/principal';

/** Whether somebody may ask for an operation at all, whatever it is asked over; screens offer no other. */
export const mayAsk = (one: Pick<AnyOperation, 'requiredRole'>, principal: Principal): boolean =>
  atLeast(principal.role, one.requiredRole);

/** Refuses whoever may not; the same for what exists and what does not. */
export async function permit(one: AnyOperation, params: Record<string, string>, principal: Principal): Promise<void> {
  if (principal.token !== undefined) {
    if (one.person) throw new Refusal(403, 'This is only for people who are signed in, not for tokens.');
    if (!principal.scopes?.tags.includes(one.tag)) throw new Refusal(403, `This token is not for ${one.tag}.`);
    if (principal.scopes.readOnly && one.method !== 'GET' && !one.readsOnly)
      throw new Refusal(403, 'This token may only read.');
  }
  if (!mayAsk(one, principal)) throw new Refusal(403, 'Your account may not do this.');
  if (one.over && !atLeast(principal.role, 'editor') && !(await isOwn(one.over, params, principal.id)))
    throw new Refusal(403, 'Your account may do this only with what is its own.');
  if (one.fresh && !principal.fresh) throw new Refusal(403, 'Show once more that it is you.', [], { confirm: true });
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
export async function noteActivityOf(
  one: AnyOperation,
  principal: Principal,
  { params, body, before, result }: Done,
): Promise<void> {
  const [was, made, asked] = [named(before), named(result), named(body)];
  if (typeof made.removal === 'string') await noteCreator('removals', [made.removal], principal.id);
  if (!one.activity) return;
  const [kind = ''] = (one.path as string).split('/').filter(Boolean);
  const subject = SUBJECTS[kind];
  const own = Object.entries(params).find(([key]) => key === `${subject}Id`)?.[1];
  const id = own ?? (one.status === 201 ? made.id : undefined);
  const text = (...all: unknown[]) => all.find((one) => typeof one === 'string') as string | undefined;
  const name = text(made.title, made.name, was.title, was.name) ?? own ?? '';
  await noteActivity({
    by: principal,
    via: principal.token === undefined ? 'screen' : 'API',
    operation: one.id,
    what: one.activity
      .replace('{name}', () => name)
      .replace('{n}', String(asked.ids?.length ?? ''))
      .replace('{what}', () => text(made.what) ?? ''),
    ...(subject && id !== undefined && { subject: `${subject} ${String(id as string | number)}` }),
    ...(one.isContinuous && { goesOn: GOES_ON }),
  });
}
