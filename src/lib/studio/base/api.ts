import { addressOf, createApi, type FileLine, type InputOf, type ResponseOf } from '$lib/client/api';
import { send, sendFile } from './request';

/** The API as whoever is signed in here. Rejects with RequestFailed. */
export const api = createApi(send);

/** Sends a file; `seen` is told how far it has gone, from 0 to 1. `abort` breaks it off. */
export const upload = <L extends FileLine>(
  line: L,
  input: InputOf<L>,
  file: File,
  seen: (part: number) => void,
): { answer: Promise<ResponseOf<L>>; abort: () => void } => {
  const [method, address] = addressOf(line, input as Parameters<typeof addressOf>[1]);
  return sendFile<ResponseOf<L>>(method as 'PUT' | 'POST', address, file, seen);
};
