import { learnIcons, onMissingIcon } from '$lib/core/base/icons';
import { api } from '../base/api';

/** As many drawings as one request brings. */
const MOST = 100;

const missing = new Set<string>();
/** Those that were asked for, so that a name without a drawing is not asked for again and again. */
const requested = new Set<string>();

/** Notes every icon that is drawn without its drawing at hand; `onFirst` is called when there is a first one. */
export function noteMissingIcons(onFirst: () => void = () => undefined): void {
  onMissingIcon((name) => {
    if (requested.has(name)) return;
    missing.add(name);
    if (missing.size === 1) onFirst();
  });
}

/** Fetches the drawings that were missed; whether there were any, so that what was drawn without them is to be drawn again. */
export async function fetchMissingIcons(): Promise<boolean> {
  const names = [...missing];
  missing.clear();
  for (const name of names) requested.add(name);
  try {
    for (let from = 0; from < names.length; from += MOST) {
      const part = names.slice(from, from + MOST);
      const { items } = await api('GET /icons', { query: { names: part.join(','), per_page: MOST } });
      learnIcons(items);
    }
  } catch (error) {
    for (const name of names) requested.delete(name);
    throw error;
  }
  return names.length > 0;
}
