import { forServer } from '../base/server';
import { Readable } from 'node:stream';
import { refusalAnswer } from './problem';
import { unsoundIn } from '../../core/base/sound';
import { Refusal } from '../base/refusal';

/** Answers with what the work gives; a refusal becomes problem details. */
export async function respond(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work();
  } catch (error) {
    return refusalAnswer(error);
  }
}

const tooLarge = (most: number): Refusal =>
  new Refusal(
    413,
    `The content is larger than ${most.toLocaleString('en')} bytes, which is the most that is taken here.`,
  );

/**
 * The body of a request of at most so many bytes. Refused (413) before anything of it is read where it says that it is larger, else
 * as soon as it is: no more than `most` bytes of it are ever held.
 */
export async function readBytes(request: Request, most: number): Promise<Uint8Array> {
  if (Number(request.headers.get('content-length') ?? 0) > most) throw tooLarge(most);
  const read: Uint8Array[] = [];
  let size = 0;
  for await (const piece of pieces(request)) {
    size += piece.length;
    if (size > most) throw tooLarge(most);
    read.push(piece);
  }
  return Buffer.concat(read);
}

/** The JSON body of a request of at most `most` bytes, or a refusal that says what is wrong with it. */
export async function readBody(request: Request, most: number): Promise<unknown> {
  if (!/^application\/json\b/.test(request.headers.get('content-type') ?? ''))
    throw new Refusal(415, 'Send the content as application/json.', [
      {
        at: 'Content-Type',
        what: `It is ${(request.headers.get('content-type') ?? 'missing').slice(0, 100)}.`,
        fix: 'Send JSON, with the header Content-Type: application/json.',
      },
    ]);
  const text = new TextDecoder().decode(await readBytes(request, most));
  let value: unknown;
  try {
    value = JSON.parse(text) as unknown;
  } catch (error) {
    throw new Refusal(400, 'The content is not JSON.', [{ at: '', what: (error as Error).message }]);
  }
  const unsound = unsoundIn(value);
  if (unsound) throw new Refusal(422, 'Something is wrong with what was sent.', [unsound]);
  return value;
}

/** Refuses the content types that browsers and programs put around a file, or before it, unless they are told otherwise. */
export function bareFile(request: Request): void {
  const type = request.headers.get('content-type') ?? '';
  if (!/^(multipart\/form-data|application\/x-www-form-urlencoded)\b/i.test(type)) return;
  throw new Refusal(415, 'Send the file as it is, not as a form.', [
    {
      at: 'Content-Type',
      what: `It is ${type.slice(0, 100)}.`,
      fix: 'Send the bytes alone, with the header Content-Type: application/octet-stream and the name in the question.',
    },
  ]);
}

/** A record's or picture's number from an address. */
export function numberOf(text: string): number {
  if (!/^[1-9]\d{0,9}$/.test(text)) throw new Refusal(404, 'There is nothing with this number.');
  return Number(text);
}

/** A file to be taken home, sent as it is made. */
export function download(name: string, mime: string, content: AsyncIterable<string | Uint8Array>): Response {
  const encoder = new TextEncoder();
  const pieces = forServer(content);
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { done, value } = await pieces.next();
      if (done) controller.close();
      else controller.enqueue(typeof value === 'string' ? encoder.encode(value) : value);
    },
    async cancel() {
      await pieces.return?.(undefined);
    },
  });
  return new Response(body, { headers: { 'content-type': mime, 'content-disposition': attachment(name) } });
}

/** Answers with a stored file, piece by piece; its stream is destroyed where only its headers are asked for. */
export function fileResponse(request: Request, content: Readable, headers: Record<string, string>): Response {
  if (request.method !== 'HEAD') return new Response(Readable.toWeb(content) as ReadableStream, { headers });
  content.destroy();
  return new Response(null, { headers });
}

/** RFC 6266 with the name in UTF-8 (RFC 8187), and a plain one for those who cannot read it. */
export const attachment = (name: string, how: 'attachment' | 'inline' = 'attachment'): string =>
  `${how}; filename="${name.replace(/[^\x20-\x7e]|["\\]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`)}`;

/** The bytes of a request, piece by piece. */
export async function* pieces(request: Request): AsyncGenerator<Uint8Array> {
  const reader = request.body?.getReader();
  if (!reader) return;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      yield value;
    }
  } finally {
    // What is not wanted is not read.
    reader.releaseLock();
  }
}

/** A file's name from the address, without anything that leads elsewhere. */
export const fileName = (url: URL, fallback: string): string =>
  (url.searchParams.get('name') ?? '')
    // eslint-disable-next-line no-control-regex
    .replace(/[/\\\u0000-\u001f]/g, ' ')
    .trim()
    .slice(0, 200) || fallback;
