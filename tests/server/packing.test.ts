import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { FILE_ORIGIN } from '../../src/lib/core/serving/files';
import { zipFiles } from '../../src/lib/server/exchange/sources';
import { Packing, type Text } from '../../src/lib/server/site/export/packing';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'plum-packing-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function filesOf(path: string): Promise<Record<string, string>> {
  const out: Record<string, string> = {};
  for await (const { name, bytes } of zipFiles(path, { each: 1e9, all: 1e9, wanted: () => true })) {
    const pieces: Uint8Array[] = [];
    for await (const piece of bytes) pieces.push(piece);
    out[name] = Buffer.concat(pieces).toString();
  }
  return out;
}
const page = (address: string, content: string): Text => ({
  address,
  as: 'page' as const,
  content: `<meta charset="utf-8">${content}`,
});

describe('an export that is packed', () => {
  it('links a file by the ending that it came with, on every page, whichever of them was the first to lead to it', async () => {
    const path = join(folder, 'a.zip');
    const packing = new Packing({ path });
    const picture = '/media/1/original';
    // Both groups are drawn before the file is there.
    const first = packing.look([page('/a/', `<img src="${picture}">`), page('/b/', `<img src="${picture}">`)]);
    const second = packing.look([
      page('/c/d/', `<a href="/a/">A</a><a href="/gone/">Gone</a><img src="${picture}" srcset="${picture} 2x">`),
    ]);
    expect([first.assets, second.assets]).toEqual([[picture], []]);
    await packing.addFiles([{ address: picture, bytes: Buffer.from('jpeg'), ending: '.jpg' }]);
    await packing.addLooked();
    await packing.addLooked();
    const packed = await packing.end();
    expect([packed.files, packed.left]).toEqual([4, ['Something leads to /gone/, which is no page of the files.']]);
    const files = await filesOf(path);
    expect(files['media/1/original.jpg']).toBe('jpeg');
    for (const name of ['a/index.html', 'b/index.html']) expect(files[name]).toContain('src="../media/1/original.jpg"');
    expect(files['c/d/index.html']).toContain(
      'src="../../media/1/original.jpg" srcset="../../media/1/original.jpg 2x"',
    );
    expect(files['c/d/index.html']).toContain('<a href="../../a/">');
  });

  it('tells what leads on once, so many pages of lists for each page, and what leads nowhere', async () => {
    const path = join(folder, 'b.zip');
    const packing = new Packing({ path, site: 'https://a.example/x/' });
    const pages = Array.from({ length: 300 }, (_, i) => `<a href="?a-page=${i}" rel="next">on</a>`).join('');
    const { further } = packing.look([page('/a/', pages), page('/a/?a-page=2', pages)]);
    expect(further.length).toBe(300);
    expect([further[0], further[199], new Set(further).size]).toEqual(['/a/?a-page=0', '/a/?a-page=199', 300]);
    // Feeds and style sheets lead to files, too.
    const led = packing.look([
      {
        address: '/a/feed.json',
        as: 'data',
        content: `{"image":"${FILE_ORIGIN}/media/7/640.webp","url":"${FILE_ORIGIN}/a/"}`,
      },
      { address: '/styles/r1.css', as: 'sheet', content: '@font-face{src:url("/_app/f.woff2")}' },
      { address: '404.html', as: 'missing', content: '<a href="/gone/">Gone</a>' },
    ]);
    expect(led).toEqual({ assets: ['/media/7/640.webp', '/_app/f.woff2'], further: [] });
    await packing.addLooked();
    await packing.addFiles(led.assets.map((address) => ({ address, bytes: Buffer.from('x') })));
    await packing.addLooked();
    const { left } = await packing.end();
    // The first of many.
    expect(left).toHaveLength(20);
    const files = await filesOf(path);
    expect(JSON.parse(files['a/feed.json']!)).toEqual({
      image: 'https://a.example/x/media/7/640.webp',
      url: 'https://a.example/x/a/',
    });
    expect(files['styles/r1.css']).toContain('url("../_app/f.woff2")');
    expect(files['404.html']).toContain('href="https://a.example/x/gone/"');
  });
});
