import { Refusal } from '../base/refusal';

/** What the address of a table asks for, to be checked by the table itself. */
export function tableQueryOf(params: URLSearchParams): Record<string, unknown> {
  const whole = (name: string) => {
    const text = params.get(name);
    return text === null ? undefined : Number(text);
  };
  const sort = params.get('sort');
  const filter = params.get('filter');
  return {
    search: (params.get('search') ?? '').slice(0, 200),
    ...(sort ? { order: { step: sort.replace(/^-/, ''), down: sort.startsWith('-') } } : {}),
    ...(filter ? { filter: ruleFrom(filter) } : {}),
    limit: whole('limit'),
    offset: whole('offset'),
  };
}

function ruleFrom(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw new Refusal(422, 'The list cannot be read.', [{ at: 'filter', what: 'The filter is not JSON.' }]);
  }
}
