import type { Principal } from '../../src/lib/server/people/principal';

/** An owner who asks, for tests that are not about who may. */
export const OWNER: Principal = {
  id: 1,
  name: 'Somebody',
  role: 'owner',
  mayPublish: true,
  session: 's_test',
  fresh: true,
};
