import { z } from 'zod';
import { WAYS } from '../../../core/people/activity';
import { readActivity } from '../../people/activity';
import {
  accountNumbered,
  changeAccount,
  createAccount,
  deleteAccount,
  readAccounts,
  type AccountChange,
  type NewAccount,
} from '../../people/accounts';
import { letKnow, sendLink } from '../../people/links';
import { readProviderRules, saveProviderRules, type ProviderRules } from '../../people/provider';
import { endCodes } from '../../people/second-factor';
import { endSessions } from '../../people/sessions';
import { deleteToken, readAllTokens } from '../../people/tokens';
import { numberOf } from '../http';
import { at, operation, type Operation } from '../operation';

const reads = { tag: 'People', who: 'owner', person: true } as const;
const writes = { ...reads, touches: 'people', fresh: true } as const;
const numbered = async (id: string | undefined) => accountNumbered(numberOf(id ?? ''));
const ActivityAsked = z.object({
  search: z.string().max(200).default(''),
  account: z.coerce.number().int().positive().optional(),
  via: z.enum(WAYS).optional(),
  subject: z.string().max(80).optional(),
  from: z.iso.date().optional(),
  until: z.iso.date().optional(),
  page: z.coerce.number().int().min(1).max(100_000).default(1),
});
const PER_PAGE = 50;

export const people: Operation[] = [
  operation({
    ...{ ...at('GET /people/names'), id: 'listNames', tag: 'People', who: 'author', person: true },
    ...{ summary: 'Names of those who have an account', answers: 'Names', status: 200 },
    run: async () =>
      (await readAccounts()).filter((one) => !one.closed).map(({ id, name, role }) => ({ id, name, role })),
  }),
  operation({
    ...{ ...at('GET /people'), id: 'listPeople', ...reads, summary: 'Accounts', answers: 'Accounts', status: 200 },
    run: () => readAccounts(),
  }),
  operation<never, z.infer<typeof NewAccount>>({
    ...{ ...at('POST /people'), id: 'invitePerson', ...writes, summary: 'Invites somebody' },
    ...{ did: 'Invited {name}', body: 'NewAccount', answers: 'Invited', status: 201, refuses: [409] },
    run: async ({ body, origin }) => {
      const account = await createAccount(body);
      return { ...account, ...(await sendLink(account.id, origin)) };
    },
  }),
  operation<never, z.infer<typeof AccountChange>>({
    ...{ ...at('PATCH /people/{accountId}'), id: 'changePerson', ...writes, summary: 'Name, address and role' },
    ...{ did: 'Changed the account of {name}', body: 'AccountChange', answers: 'Account', status: 200, refuses: [409] },
    run: async ({ params, body }) => changeAccount((await numbered(params.accountId)).id, body),
  }),
  operation({
    ...{ ...at('DELETE /people/{accountId}'), id: 'deletePerson', ...writes, summary: 'Takes an account away' },
    ...{ did: 'Took an account away', status: 204, refuses: [409] },
    run: async ({ params }) => deleteAccount((await numbered(params.accountId)).id),
  }),
  operation({
    ...{ ...at('POST /people/{accountId}/link'), id: 'sendLink', ...writes, status: 200 },
    ...{ summary: 'Sends a link by which a password is set', did: 'Sent a link for a new password' },
    answers: 'AccountLink',
    run: async ({ params, origin }) => sendLink((await numbered(params.accountId)).id, origin),
  }),
  operation({
    ...{ ...at('DELETE /people/{accountId}/sessions'), id: 'signOutPerson', ...writes, status: 204 },
    ...{ summary: 'Signs somebody out everywhere', did: 'Signed somebody out everywhere' },
    run: async ({ params }) => endSessions((await numbered(params.accountId)).id),
  }),
  operation({
    ...{ ...at('DELETE /people/{accountId}/codes'), id: 'endPersonCodes', ...writes, status: 204 },
    ...{ summary: 'Ends the second factor of somebody who lost it', did: 'Ended a second factor' },
    run: async ({ params }) => {
      const account = await numbered(params.accountId);
      await endCodes(account.id);
      await endSessions(account.id);
      letKnow(account, 'An owner has ended your second factor: no code is asked for after your password.');
    },
  }),
  operation({
    ...{ ...at('GET /people/tokens'), id: 'listAllTokens', ...reads, summary: 'The tokens of everybody' },
    ...{ answers: 'PeopleTokens', status: 200 },
    run: () => readAllTokens(),
  }),
  operation({
    ...{
      ...at('DELETE /people/tokens/{tokenId}'),
      id: 'endAnyToken',
      ...writes,
      summary: 'Ends the token of somebody',
    },
    ...{ did: 'Ended a token of somebody', status: 204 },
    run: ({ params }) => deleteToken(params.tokenId ?? ''),
  }),
  operation({
    ...{ ...at('GET /people/provider'), id: 'readProviderRules', ...reads, answers: 'ProviderRules', status: 200 },
    summary: 'Which people of the identity provider get which role',
    run: () => readProviderRules(),
  }),
  operation<never, ProviderRules>({
    ...{ ...at('PUT /people/provider'), id: 'saveProviderRules', ...writes, body: 'ProviderRules', status: 200 },
    ...{ summary: 'Gives roles by group or domain', did: 'Changed which roles the identity provider gives' },
    answers: 'ProviderRules',
    run: ({ body }) => saveProviderRules(body),
  }),
  operation<z.infer<typeof ActivityAsked>, undefined>({
    ...{ ...at('GET /activity'), id: 'listActivity', tag: 'Activity', who: 'editor', status: 200 },
    ...{ summary: 'Who changed what, the last first', query: ActivityAsked, answers: 'Activities' },
    run: ({ query: { page, ...asked } }) => readActivity(asked, PER_PAGE, (page - 1) * PER_PAGE),
  }),
];
