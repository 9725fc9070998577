import { answerApi } from '$lib/server/api/answer';
import { operations } from '$lib/server/api/operations';
import base from '$lib/site/site.css?inline';
import type { RequestHandler } from './$types';

const all = operations(base);
const answer: RequestHandler = ({ request, url, params }) => answerApi(request, url, `/${params.path}`, all);

export const GET = answer;
export const POST = answer;
export const PUT = answer;
export const PATCH = answer;
export const DELETE = answer;
