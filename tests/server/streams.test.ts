import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decode, encodingOf, LONGEST_LINE } from '../../src/lib/server/exchange/decode';
import { jsonValues } from '../../src/lib/server/exchange/json-values';
import { refused } from '../support/refused';

/** The bytes of a text, cut at these places, wherever that is within a character. */
async function* cut(bytes: Buffer, places: number[]): AsyncGenerator<Uint8Array> {
  let from = 0;
  for (const at of [...places.map((place) => place % (bytes.length + 1)).sort((a, b) => a - b), bytes.length]) {
    yield bytes.subarray(from, at);
    from = at;
  }
}
const text = fc.string({
  unit: fc.constantFrom('a', 'é', '霧', '👨‍👩‍👧', '\n', '\r\n', '"', '\\', '{', ']', ',', '\u0000'),
});
const places = fc.array(fc.nat(400), { maxLength: 12 });
const collect = async (pieces: AsyncIterable<string>) => {
  let out = '';
  for await (const piece of pieces) out += piece;
  return out;
};

describe('bytes', () => {
  it('become the same text however they are cut', async () => {
    await fc.assert(
      fc.asyncProperty(text, places, async (given, at) => {
        expect(await collect(decode(cut(Buffer.from(given), at), 'utf-8'))).toBe(given);
        expect(
          await collect(
            decode(
              cut(
                Buffer.from(`\uFEFF${given}`, 'utf16le'),
                at.map((n) => n + 2),
              ),
              'utf-16',
            ),
          ),
        ).toBe(given);
      }),
    );
    const western = Buffer.from('Hütte – 5 €'.replace('–', '\u0096').replace('€', '\u0080'), 'latin1');
    expect(await collect(decode(cut(western, [3]), 'windows-1252'))).toBe('Hütte – 5 €');
  });

  it('tell their encoding by their mark', () => {
    expect(encodingOf(Buffer.from('\uFEFFa', 'utf16le'))).toBe('utf-16');
    expect(encodingOf(Buffer.from('\uFEFFa', 'utf16le').swap16())).toBe('utf-16');
    expect(encodingOf(Buffer.from('\uFEFFa'))).toBe('utf-8');
    expect(encodingOf(Buffer.alloc(0))).toBe('utf-8');
  });

  it('are never held beyond the longest line', async () => {
    let given = 0;
    const endless = (async function* () {
      for (;;) {
        given += 1_000_000;
        yield Buffer.alloc(1_000_000, 97);
      }
    })();
    expect((await refused(collect(decode(endless, 'utf-8')))).problems[0]?.at).toBe('line 1');
    expect(given).toBeLessThan(LONGEST_LINE * 2);
  });

  it('that are not UTF-8 are told with their line, however far down', async () => {
    await fc.assert(
      fc.asyncProperty(fc.nat(300), places, async (lines, at) => {
        const bytes = Buffer.concat([
          Buffer.from('fine é\n'.repeat(lines)),
          Buffer.from([0x61, 0xe9, 0x0a]),
          Buffer.from('more\n'),
        ]);
        expect((await refused(collect(decode(cut(bytes, at), 'utf-8')))).problems[0]?.at).toBe(`line ${lines + 1}`);
      }),
      { numRuns: 60 },
    );
  });
});

describe('JSON as a stream', () => {
  const value = fc.dictionary(fc.string(), fc.jsonValue({ maxDepth: 4 }), { maxKeys: 4 });

  it('gives what JSON.parse gives, however it is cut and laid out', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(value, { minLength: 1, maxLength: 5 }),
        places,
        fc.constantFrom(0, 1, 2),
        async (values, at, layout) => {
          const given =
            layout === 2 ? values.map((v) => JSON.stringify(v)).join('\n') : JSON.stringify(values, null, layout * 2);
          const pieces = (async function* () {
            let from = 0;
            for (const to of [...at.map((n) => n % (given.length + 1)).sort((a, b) => a - b), given.length]) {
              yield given.slice(from, to);
              from = to;
            }
          })();
          const out: unknown[] = [];
          for await (const { value: one } of jsonValues(pieces)) out.push(one);
          expect(out).toEqual(JSON.parse(JSON.stringify(values)));
        },
      ),
    );
  });

  it('tells the line on which each value begins', async () => {
    const lines: number[] = [];
    const pieces = (async function* () {
      yield '[\n{"a":\n1},\n\n{"b"';
      yield ':2}\n]';
    })();
    for await (const { line } of jsonValues(pieces)) lines.push(line);
    expect(lines).toEqual([2, 5]);
  });
});
