import { isUtf8 } from 'node:buffer';
import { Refusal } from '../base/refusal';

export type Encoding = 'utf-8' | 'utf-16' | 'windows-1252';

/** Longest line, in bytes; a cell of more than this is refused before it is held as a whole. */
export const LONGEST_LINE = 8_000_000;

/** What the first bytes of a file say about its encoding (byte order marks, Unicode 15.0, 2.13). */
export function encodingOf(head: Uint8Array): Encoding {
  const [a, b] = head;
  return (a === 0xff && b === 0xfe) || (a === 0xfe && b === 0xff) ? 'utf-16' : 'utf-8';
}

/**
 * Bytes as text, in pieces that end with a line. What is not in the encoding is refused with the line it stands on, and
 * so is a line without end.
 */
export async function* decode(bytes: AsyncIterable<Uint8Array>, encoding: Encoding): AsyncGenerator<string> {
  if (encoding === 'utf-8') {
    yield* decodeUtf8(bytes);
    return;
  }
  let decoder: TextDecoder | undefined;
  for await (const piece of bytes) {
    decoder ??= new TextDecoder(
      encoding === 'windows-1252' ? 'windows-1252' : piece[0] === 0xfe ? 'utf-16be' : 'utf-16le',
    );
    yield decoder.decode(piece, { stream: true });
  }
  yield decoder?.decode() ?? '';
}

async function* decodeUtf8(bytes: AsyncIterable<Uint8Array>): AsyncGenerator<string> {
  let rest: Buffer[] = [];
  let waiting = 0;
  let line = 1;
  let first = true;
  const take = (piece: Buffer): string => {
    if (!isUtf8(piece)) throw notUtf8(piece, line);
    let text = piece.toString('utf8');
    if (first) text = text.replace(/^\uFEFF/, '');
    first = false;
    for (let at = piece.indexOf(10); at >= 0; at = piece.indexOf(10, at + 1)) line++;
    return text;
  };
  for await (const piece of bytes) {
    const buffer = Buffer.from(piece.buffer, piece.byteOffset, piece.byteLength);
    const end = buffer.lastIndexOf(10);
    if (end < 0) {
      rest.push(buffer);
      waiting += buffer.length;
    } else {
      const ready = Buffer.concat([...rest, buffer.subarray(0, end + 1)]);
      rest = [buffer.subarray(end + 1)];
      waiting = buffer.length - end - 1;
      yield take(ready);
    }
    if (waiting > LONGEST_LINE)
      throw new Refusal(422, 'The file cannot be read.', [
        {
          at: `line ${line}`,
          what: `This line is longer than ${LONGEST_LINE / 1_000_000} MB.`,
          fix: 'Check that the file is of the kind you chose, and that its quotes are closed.',
        },
      ]);
  }
  const last = Buffer.concat(rest);
  if (last.length) yield take(last);
}

function notUtf8(piece: Buffer, line: number): Refusal {
  let at = 0;
  let bad = line;
  for (;;) {
    const end = piece.indexOf(10, at);
    const row = piece.subarray(at, end < 0 ? undefined : end + 1);
    if (!isUtf8(row) || end < 0) {
      const seen = new TextDecoder('windows-1252').decode(row).trim().slice(0, 60);
      return new Refusal(422, 'The file is not in UTF-8.', [
        {
          at: `line ${bad}`,
          what: `This line has bytes that are not UTF-8: “${seen}”.`,
          fix: 'Save the file as UTF-8, or choose the encoding Western (Windows-1252).',
        },
      ]);
    }
    bad++;
    at = end + 1;
  }
}
