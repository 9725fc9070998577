import base from '$lib/site/site.css?inline';
import { operations } from './operations';

/** Every operation of the running application. */
export const allOperations = operations(base);
