import { error } from '@sveltejs/kit';
import { mayAsk } from '$lib/server/api/permission';
import { allOperations } from '$lib/server/api/all-operations';
import { readModel } from '$lib/server/services/model';
import type { LayoutServerLoad } from './$types';

/** What every screen of the studio needs: who is signed in, what they may ask for, and the clocks by which dates are given. */
export const load: LayoutServerLoad = async ({ locals: { who } }) => {
  if (!who) error(401, 'Sign in first.');
  const { id, name, role, mayPublish } = who;
  const { timeZone, locale } = (await readModel()).site;
  return {
    zone: timeZone,
    locale,
    me: { id, name, role, mayPublish },
    may: allOperations.filter((one) => mayAsk(one, who)).map((one) => one.id),
  };
};
