import { bodyOf, respond } from '$lib/server/api';
import { readModel } from '$lib/server/services/model';
import { ruleUses, saveRule } from '$lib/server/services/rules';
import type { RequestHandler } from './$types';

/** The rules that are kept under a name, and where each is used. */
export const GET: RequestHandler = () =>
  respond(async () => ({ rules: (await readModel()).rules, uses: await ruleUses() }));

/** Keeps a rule under a name, or brings the one with this id to the given state. */
export const POST: RequestHandler = ({ request }) => respond(async () => saveRule(await bodyOf(request)), 201);
