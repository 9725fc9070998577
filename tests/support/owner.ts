import { createAccount } from '../../src/lib/server/people/accounts';
import { beginSession } from '../../src/lib/server/people/sessions';

/** The cookie of an owner who is signed in, for programs that ask the API. */
export async function ownerCookie(): Promise<string> {
  const { id } = await createAccount(
    { name: 'W', email: 'w@huts.example', role: 'owner', mayPublish: true },
    { password: 'many hands at once' },
  );
  return `plum_session=${await beginSession(id, '127.0.0.1', 'A program')}`;
}
