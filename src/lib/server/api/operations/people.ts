import { z } from 'zod';
import { WAYS } from '../../../core/people/activity';
import { readActivity } from '../../people/activity';
import { accountNumbered, changeAccount, createAccount, deleteAccount, readAccounts } from '../../people/accounts';
import { letKnow, sendLink } from '../../people/links';
import { readProviderRules, saveProviderRules } from '../../people/provider';
import { endCodes } from '../../people/second-factor';
import { endSessions } from '../../people/sessions';
import { deleteToken, readAllTokens } from '../../people/tokens';
import { operation } from '../operation';
import { schemas } from '../schemas';

const reads = { tag: 'People', requiredRole: 'owner', person: true } as const;
const writes = { ...reads, touches: 'people', fresh: true } as const;
const numbered = async (id: number) => accountNumbered(id);
const ActivityQuery = z.object({
  search: z.string().max(200).default(''),
  account: z.coerce.number().int().positive().optional(),
  via: z.enum(WAYS).optional(),
  subject: z.string().max(80).optional(),
  from: z.iso.date().optional(),
  until: z.iso.date().optional(),
  page: z.coerce.number().int().min(1).max(100_000).default(1),
});
const PER_PAGE = 50;

export const people = [
  operation('GET /people/names', {
    id: 'listNames',
    tag: 'People',
    requiredRole: 'author',
    person: true,
    summary: 'Names of those who have an account',
    response: schemas.Names,
    status: 200,
    run: async () =>
      (await readAccounts()).filter((one) => !one.closed).map(({ id, name, role }) => ({ id, name, role })),
  }),
  operation('GET /people', {
    id: 'listPeople',
    ...reads,
    summary: 'Accounts',
    response: schemas.Accounts,
    status: 200,
    run: () => readAccounts(),
  }),
  operation('POST /people', {
    id: 'invitePerson',
    ...writes,
    summary: 'Invites somebody',
    activity: 'Invited {name}',
    body: schemas.NewAccount,
    example: { name: 'Ada Ash', email: 'ada@huts.example', role: 'author' },
    response: schemas.Invited,
    status: 201,
    refuses: [409],
    run: async ({ body, origin }) => {
      const account = await createAccount(body);
      return { ...account, ...(await sendLink(account.id, origin)) };
    },
  }),
  operation('PATCH /people/{accountId}', {
    id: 'changePerson',
    ...writes,
    summary: 'Name, address and role',
    activity: 'Changed the account of {name}',
    body: schemas.AccountChange,
    example: { role: 'editor' },
    response: schemas.Account,
    status: 200,
    refuses: [409],
    run: async ({ params, body }) => changeAccount((await numbered(params.accountId)).id, body),
  }),
  operation('DELETE /people/{accountId}', {
    id: 'deletePerson',
    ...writes,
    summary: 'Takes an account away',
    activity: 'Took an account away',
    status: 204,
    refuses: [409],
    run: async ({ params }) => deleteAccount((await numbered(params.accountId)).id),
  }),
  operation('POST /people/{accountId}/link', {
    id: 'sendLink',
    ...writes,
    status: 200,
    summary: 'Sends a link by which a password is set',
    activity: 'Sent a link for a new password',
    response: schemas.AccountLink,
    run: async ({ params, origin }) => sendLink((await numbered(params.accountId)).id, origin),
  }),
  operation('DELETE /people/{accountId}/sessions', {
    id: 'signOutPerson',
    ...writes,
    status: 204,
    summary: 'Signs somebody out everywhere',
    activity: 'Signed somebody out everywhere',
    run: async ({ params }) => endSessions((await numbered(params.accountId)).id),
  }),
  operation('DELETE /people/{accountId}/codes', {
    id: 'endPersonCodes',
    ...writes,
    status: 204,
    summary: 'Ends the second factor of somebody who lost it',
    activity: 'Ended a second factor',
    run: async ({ params }) => {
      const account = await numbered(params.accountId);
      await endCodes(account.id);
      await endSessions(account.id);
      letKnow(account, 'An owner has ended your second factor: no code is asked for after your password.');
    },
  }),
  operation('GET /people/tokens', {
    id: 'listAllTokens',
    ...reads,
    summary: 'The tokens of everybody',
    response: schemas.PeopleTokens,
    status: 200,
    run: () => readAllTokens(),
  }),
  operation('DELETE /people/tokens/{tokenId}', {
    id: 'endAnyToken',
    ...writes,
    summary: 'Ends the token of somebody',
    activity: 'Ended a token of somebody',
    status: 204,
    run: ({ params }) => deleteToken(params.tokenId),
  }),
  operation('GET /people/provider', {
    id: 'readProviderRules',
    ...reads,
    response: schemas.ProviderRules,
    status: 200,
    summary: 'Which people of the identity provider get which role',
    run: () => readProviderRules(),
  }),
  operation('PUT /people/provider', {
    id: 'saveProviderRules',
    ...writes,
    body: schemas.ProviderRules,
    example: { rules: [{ by: 'group', is: 'wardens', role: 'author' }] },
    status: 200,
    summary: 'Gives roles by group or domain',
    activity: 'Changed which roles the identity provider gives',
    response: schemas.ProviderRules,
    run: ({ body }) => saveProviderRules(body),
  }),
  operation('GET /activity', {
    id: 'listActivity',
    tag: 'Activity',
    requiredRole: 'editor',
    status: 200,
    summary: 'Who changed what, the last first',
    query: ActivityQuery,
    response: schemas.Activities,
    run: ({ query: { page, ...asked } }) => readActivity(asked, PER_PAGE, (page - 1) * PER_PAGE),
  }),
] as const;
