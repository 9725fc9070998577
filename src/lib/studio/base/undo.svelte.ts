import { api } from './api';

interface Offer {
  /** The removal that can be undone. */
  id: string;
  words: string;
}

/** What was done last that can be undone; shown at the foot of every screen until it is, or is waved away. */
export const undo = $state<{ offer?: Offer; said: string }>({ said: '' });

export function offerUndo(id: string, words: string): void {
  undo.offer = { id, words };
  undo.said = '';
}

/** Undoes it, and says so. True where it could be. */
export async function takeBack(): Promise<boolean> {
  if (!undo.offer) return false;
  try {
    await api('POST /removals/{removalId}/undo', { removalId: undo.offer.id });
    undo.offer = undefined;
    undo.said = '';
    return true;
  } catch (error) {
    undo.said = (error as Error).message;
    return false;
  }
}
