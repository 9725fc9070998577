import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FILE_ORIGIN, fileFor, linkTo, relink, relinkJson, relinkPage } from '../../src/lib/core/serving/files';

const how = (file: string, site?: string) => ({
  file,
  site,
  targetOf: (address: string) => linkTo(fileFor(address, { '/media/5/original': '.svg' })),
});

describe('the site as files', () => {
  it.each([
    ['/', 'index.html'],
    ['/huts/', 'huts/index.html'],
    ['/huts/grey-crag', 'huts/grey-crag/index.html'],
    ['/huts/page/2/', 'huts/page/2/index.html'],
    ['/huts/%E9%9C%A7', 'huts/霧/index.html'],
    ['/huts/x?rooms=2', 'huts/x/rooms-2/index.html'],
    ['/huts/feed.atom', 'huts/feed.atom'],
    ['/media/3/640.webp', 'media/3/640.webp'],
    ['/media/5/original', 'media/5/original.svg'],
    ['/../x', '.._/x/index.html'],
  ])('%s is %s', (address, file) => expect(fileFor(address, { '/media/5/original': '.svg' })).toBe(file));

  it('links from file to file so that they lie in any folder', () => {
    const top = 'https://a.example/deep/er/';
    const part = fc.constantFrom('huts', 'a', 'b', '霧', 'x y', 'page', '2');
    const address = fc
      .tuple(fc.array(part, { maxLength: 4 }), fc.boolean())
      .map(([parts, slash]) => `/${parts.map(encodeURIComponent).join('/')}${slash && parts.length ? '/' : ''}`);
    fc.assert(
      fc.property(address, address, (from, to) => {
        const file = fileFor(from);
        // Resolved as a browser does (WHATWG URL).
        const resolved = new URL(relink(to, how(file)), top + linkTo(file));
        expect(decodeURIComponent(resolved.href)).toBe(decodeURIComponent(top + linkTo(fileFor(to))));
      }),
    );
  });

  it('makes every address in a page anew, and nothing that only looks like one', () => {
    const html = `<link rel="canonical" href="${FILE_ORIGIN}/huts/x"><meta property="og:image" content="${FILE_ORIGIN}/media/3/1280.webp"><a href="/huts/?a=1&amp;b=2">a</a><img src="/media/3/640.webp" srcset="/media/3/320.webp 320w, /media/3/640.webp 640w" alt="a"><p>say href="/huts/" aloud</p><a href="https://b.example/huts/">b</a><a href="#main">c</a><a href="mailto:a@b.example">d</a><script type="application/ld+json">{"url":"${FILE_ORIGIN}/huts/x"}</script>`;
    expect(relinkPage(html, how('huts/x/index.html', 'https://a.example/sub/'))).toBe(
      '<link rel="canonical" href="https://a.example/sub/huts/x/"><meta property="og:image" content="https://a.example/sub/media/3/1280.webp"><a href="../../huts/a-1-b-2/">a</a><img src="../../media/3/640.webp" srcset="../../media/3/320.webp 320w, ../../media/3/640.webp 640w" alt="a"><p>say href="/huts/" aloud</p><a href="https://b.example/huts/">b</a><a href="#main">c</a><a href="mailto:a@b.example">d</a><script type="application/ld+json">{"url":"https://a.example/sub/huts/x/"}</script>',
    );
    const bare = relinkPage(html, how('huts/x/index.html'));
    expect(bare).not.toContain('canonical');
    expect(bare).not.toContain('og:image');
    expect(bare).toContain('{"url":"../../huts/x/"}');
    expect(bare).not.toContain(FILE_ORIGIN);
  });

  it('leads home from the top too', () => {
    expect(relink('/', how('index.html'))).toBe('./');
    expect(relink('/', how('404.html', 'https://a.example/sub/'))).toBe('./');
    expect(relink('/huts/#x', { ...how('404.html', 'https://a.example/sub/'), whole: true })).toBe(
      'https://a.example/sub/huts/#x',
    );
    expect(relinkJson(`{"a":"${FILE_ORIGIN}/huts/feed.json"}`, how('huts/feed.json'))).toBe(
      '{"a":"../huts/feed.json"}',
    );
  });
});
