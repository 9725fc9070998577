import { findTypes, propertiesOf } from '$lib/core/base/vocabulary';
import { respond } from '$lib/server/api';
import type { RequestHandler } from './$types';

/** Types of the vocabulary by words, or the properties of one type. */
export const GET: RequestHandler = ({ url }) =>
  respond(async () => {
    const of = url.searchParams.get('of');
    return of ? propertiesOf(of) : findTypes(url.searchParams.get('search') ?? '');
  });
