import { Refusal } from '../base/refusal';

/** Text line by line, each with its number; empty ones are left out. */
export async function* linesOf(pieces: AsyncIterable<string>): AsyncGenerator<{ text: string; line: number }> {
  let rest = '';
  let line = 0;
  for await (const piece of pieces) {
    const lines = (rest + piece).split('\n');
    rest = lines.pop() ?? '';
    if (rest.length > 1_000_000)
      throw new Refusal(422, 'The file cannot be read.', [
        { at: `line ${line + lines.length + 1}`, what: 'This line is longer than a million characters.' },
      ]);
    for (const text of lines) {
      line++;
      if (text.trim()) yield { text, line };
    }
  }
  if (rest.trim()) yield { text: rest, line: line + 1 };
}
