import { randomBytes } from 'node:crypto';
import { readdirSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { cleanHtml, cleanSvg } from '../../src/lib/server/services/html';
import {
  addBytes,
  addMedia,
  deleteMedia,
  listMedia,
  MOST_BYTES,
  readMedia,
  readOriginal,
  readRendition,
  tidyMedia,
  usesOfMedia,
} from '../../src/lib/server/services/media';
import { fillPictureColours } from '../../src/lib/server/services/picture-colours';
import { run } from '../../src/lib/server/database/connect';
import { contrast } from '../../src/lib/core/theme/contrast';
import { tintOver } from '../../src/lib/core/theme/tint';
import { createRecord } from '../../src/lib/server/services/records';
import { undoRemoval } from '../../src/lib/server/services/record-removal';
import { saveContentType } from '../../src/lib/server/services/types';
import { freshDatabase } from '../support/database';
import { field } from '../support/world';
import { changeMedia } from '../support/services';
import { activeServer } from '../support/server';

let drop: () => Promise<void>;
beforeAll(async () => {
  drop = await freshDatabase();
  await saveContentType({
    id: 'card',
    key: 'card',
    name: 'Card',
    plural: 'Cards',
    base: 'cards',
    taxonomyIds: [],
    fields: [field('front', 'picture', {}, 'Front'), field('sheet', 'file', {}, 'Sheet')],
  });
});
afterAll(() => drop());

const png = (width = 8, colour = '#5b2b4c') =>
  sharp({ create: { width, height: 8, channels: 3, background: colour } })
    .png()
    .toBuffer();
const kept = () =>
  readdirSync(activeServer().configuration.mediaFolder)
    .filter((name) => name !== 'incoming' && name !== 'put-aside')
    .sort();
const waiting = () => readdirSync(join(activeServer().configuration.mediaFolder, 'incoming'));

describe('files', () => {
  it('are kept once, whatever they are called and however often they come', async () => {
    const bytes = await png(21);
    const first = await addBytes('a.png', bytes, 'A');
    const others = await Promise.all([addBytes('b.png', bytes), addBytes('c.png', bytes)]);
    expect(first.again).toBe(false);
    expect(others.map((one) => [one.id, one.again])).toEqual([
      [first.id, true],
      [first.id, true],
    ]);
    const fresh = await png(22);
    const raced = await Promise.all(Array.from({ length: 5 }, (_, i) => addBytes(`r${i}.png`, fresh)));
    expect(new Set(raced.map((one) => one.id)).size).toBe(1);
    expect(kept().filter((name) => name.endsWith('.png'))).toHaveLength(2);
    expect(waiting()).toEqual([]);
  });

  it('leave nothing behind when they break off, are refused, or their process dies', async () => {
    const before = [kept(), (await listMedia()).total];
    const broken = (async function* () {
      yield (await png(30)).subarray(0, 20);
      throw new Error('the line went dead');
    })();
    await expect(addMedia('broken.png', broken)).rejects.toThrow('dead');
    await expect(addBytes('x', Buffer.alloc(0))).rejects.toMatchObject({ status: 422 });
    await expect(addBytes('x.exe', Buffer.concat([Buffer.from('MZ'), randomBytes(200)]))).rejects.toMatchObject({
      status: 415,
    });
    expect(waiting()).toEqual([]);
    // As a process that was killed would have left them: half a file on its way, and a whole one without its row.
    const half = join(activeServer().configuration.mediaFolder, 'incoming', 'abc');
    writeFileSync(half, 'half');
    utimesSync(half, new Date(Date.now() - 25 * 3_600_000), new Date(Date.now() - 25 * 3_600_000));
    const orphan = join(activeServer().configuration.mediaFolder, `${'0'.repeat(64)}.png`);
    writeFileSync(orphan, 'whole');
    utimesSync(orphan, new Date(Date.now() - 120_000), new Date(Date.now() - 120_000));
    await tidyMedia();
    expect(waiting()).toEqual([]);
    expect([kept(), (await listMedia()).total]).toEqual(before);
  });

  it('are known by their content', async () => {
    const kinds: [string, Buffer, string][] = [
      ['a.png', Buffer.from('%PDF-1.4\n%âãÏÓ\n1 0 obj<<>>endobj\ntrailer<<>>\n%%EOF', 'latin1'), 'application/pdf'],
      ['notes.exe', Buffer.from('Grüße, 霧\n'), 'text/plain'],
      ['way.txt', Buffer.from('<?xml version="1.0"?>\n<gpx version="1.1"></gpx>'), 'application/gpx+xml'],
      [
        'x.jpg',
        Buffer.from('<!-- hi --><svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><circle r="9"/></svg>'),
        'image/svg+xml',
      ],
    ];
    for (const [name, bytes, mime] of kinds) expect([name, (await addBytes(name, bytes)).mime]).toEqual([name, mime]);
    for (const bytes of [
      Buffer.from('<!DOCTYPE html><script>x()</script>'),
      Buffer.from('<?php x();'),
      Buffer.from([0xfe, 0xc0, 0, 0, 1]),
      Buffer.from('\u0000\u0001binary'),
    ])
      await expect(addBytes('innocent.txt', bytes)).rejects.toMatchObject({ status: 415 });
  });

  it('have limits that are told', async () => {
    const many = (async function* () {
      for (let i = 0; i < 110; i++) yield Buffer.alloc(1_000_000, 65);
    })();
    await expect(addMedia('big.txt', many)).rejects.toThrow('“big.txt” is larger than 100 MB');
    await expect(
      addBytes(
        'big.svg',
        Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg">${' '.repeat(MOST_BYTES.drawing)}</svg>`),
      ),
    ).rejects.toMatchObject({ status: 413 });
    // A PNG that says of itself that it has 60,000 by 60,000 pixels.
    const huge = await png();
    huge.writeUInt32BE(60_000, 16);
    huge.writeUInt32BE(60_000, 20);
    await expect(addBytes('bomb.png', huge)).rejects.toMatchObject({ status: 415 });
  });
});

describe('pictures', () => {
  it('come at the kept widths, as WebP and in their own format', async () => {
    const picture = await addBytes(
      'wide.jpg',
      await sharp({ create: { width: 2000, height: 500, channels: 3, background: '#246' } })
        .jpeg()
        .toBuffer(),
    );
    for (const width of [320, 640, 960, 1280, 1920])
      for (const format of ['webp', 'jpeg']) {
        const { bytes, mime } = await readRendition(picture.id, width, format);
        const seen = await sharp(bytes).metadata();
        expect([mime, seen.format, seen.width, seen.height]).toEqual([`image/${format}`, format, width, width / 4]);
      }
    expect((await readOriginal(picture.id)).size).toBe(picture.size);
  });

  it('are made once for all who ask for one at the same time, and each gets it', async () => {
    const made = sharp({ create: { width: 1400, height: 900, channels: 3, background: '#2a6' } });
    const picture = await addBytes('many.png', await made.png().toBuffer());
    const all = await Promise.all(Array.from({ length: 12 }, () => readRendition(picture.id, 640, 'webp')));
    for (const { bytes } of all) expect((await sharp(bytes).metadata()).width).toBe(640);
  });

  it('are told of by everything that uses them', async () => {
    const picture = await addBytes('used.png', await png(33), 'Used');
    const card = await createRecord('card', { title: 'Queen', values: { front: picture.id, sheet: picture.id } });
    expect(await usesOfMedia(picture.id)).toEqual([
      { what: 'Queen (Card, Front)', href: `/studio/content/card/${card.id}` },
      { what: 'Queen (Card, Sheet)', href: `/studio/content/card/${card.id}` },
    ]);
    const { removal } = await deleteMedia([picture.id]);
    expect(await usesOfMedia(picture.id)).toEqual([]);
    await tidyMedia();
    await undoRemoval(removal);
    expect(await usesOfMedia(picture.id)).toHaveLength(2);
    expect((await readOriginal(picture.id)).size).toBe(picture.size);
  });

  it('have words and a focal point', async () => {
    const picture = await addBytes('f.png', await png(34));
    expect(await changeMedia(picture.id, { alt: ' Words ', focalX: 0.2, focalY: 1 })).toMatchObject({
      alt: 'Words',
      focalX: 0.2,
      focalY: 1,
    });
    await expect(changeMedia(picture.id, { focalX: 1.1 })).rejects.toMatchObject({ status: 422 });
    await expect(changeMedia(picture.id, { hash: 'x' })).rejects.toMatchObject({ status: 422 });
    expect((await listMedia({ search: 'words', pictures: true })).media.map((one) => one.id)).toEqual([picture.id]);
    expect((await readMedia(picture.id)).name).toBe('f.png');
  });
});

/**
 * Attack strings in the manner of the OWASP XSS Filter Evasion Cheat Sheet (from memory): scripts, handlers, odd
 * schemes, broken tags, encodings and foreign markup.
 */
const ATTACKS = [
  '<SCRIPT SRC=https://e.example/xss.js></SCRIPT>',
  '<IMG SRC="javascript:alert(\'XSS\');">',
  '<IMG SRC=JaVaScRiPt:alert(1)>',
  '<IMG SRC=`javascript:alert("1")`>',
  '<IMG """><SCRIPT>alert("XSS")</SCRIPT>"\\>',
  '<IMG SRC=# onmouseover="alert(1)">',
  '<IMG SRC= onmouseover="alert(1)">',
  '<IMG SRC=/ onerror="alert(String.fromCharCode(88))"></img>',
  '<img src=x onerror="&#0000106&#0000097&#0000118&#0000097">',
  '<IMG SRC=&#106;&#97;&#118;&#97;&#115;&#99;&#114;&#105;&#112;&#116;&#58;&#97;&#108;&#101;&#114;&#116;(1)>',
  '<a href="&#x6A&#x61&#x76&#x61&#x73&#x63&#x72&#x69&#x70&#x74&#x3A&#x61&#x6C&#x65&#x72&#x74(1)">x</a>',
  '<a href="jav\tascript:alert(1)">x</a>',
  '<a href="jav&#x09;ascript:alert(1)">x</a>',
  '<a href=" &#14;  javascript:alert(1)">x</a>',
  '<a href="vbscript:msgbox(1)">x</a>',
  '<a href="data:text/html;base64,PHNjcmlwdD5hbGVydCgxKTwvc2NyaXB0Pg==">x</a>',
  '<a href="//e.example/">x</a>',
  '<SCRIPT/XSS SRC="https://e.example/xss.js"></SCRIPT>',
  '<BODY onload!#$%&()*~+-_.,:;?@[/|\\]^`=alert(1)>',
  '<<SCRIPT>alert(1);//\\<</SCRIPT>',
  '<SCRIPT SRC=https://e.example/xss.js?< B >',
  '<IMG SRC="`<javascript:alert>`(1)"',
  '<iframe src=https://e.example/scriptlet.html <',
  '</TITLE><SCRIPT>alert(1);</SCRIPT>',
  '<INPUT TYPE="IMAGE" SRC="javascript:alert(1);">',
  '<BODY BACKGROUND="javascript:alert(1)">',
  '<IMG DYNSRC="javascript:alert(1)">',
  '<svg/onload=alert(1)>',
  '<svg><animate onbegin=alert(1) attributeName=x dur=1s>',
  '<LINK REL="stylesheet" HREF="javascript:alert(1);">',
  "<STYLE>@import'https://e.example/xss.css';</STYLE>",
  '<DIV STYLE="background-image: url(javascript:alert(1))">',
  '<META HTTP-EQUIV="refresh" CONTENT="0;url=javascript:alert(1);">',
  '<OBJECT TYPE="text/x-scriptlet" DATA="https://e.example/"></OBJECT>',
  '<EMBED SRC="data:image/svg+xml;base64,PHN2Zz4=" type="image/svg+xml">',
  '<math><mtext><table><mglyph><style><img src=x onerror=alert(1)></style></mglyph></table></mtext></math>',
  '<noscript><p title="</noscript><img src=x onerror=alert(1)>">',
  '<form><button formaction=javascript:alert(1)>x',
  '<details open ontoggle=alert(1)>x',
  '<a href="https://a.example" style="position:fixed" onclick="x()" target=_blank>x</a>',
];
const HARMFUL =
  /<script|<style|<iframe|<object|<embed|<svg|<math|<form|<input|<button|<meta|<link|<body|\son\w+\s*=|javascript:|vbscript:|data:text|href="\/\/|style=/i;

describe('sanitising', () => {
  it.each(ATTACKS)('leaves no harm of %s', (attack) => {
    const clean = cleanHtml(`<p>before</p>${attack}<p>after</p>`);
    // What is left as text is escaped, so only real markup counts.
    expect(clean.replace(/&lt;[^<]*/g, '')).not.toMatch(HARMFUL);
    expect(cleanHtml(clean)).toBe(clean);
  });

  it('refuses drawings that draw themselves without end', () => {
    const svg = (inner: string) => `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9">${inner}</svg>`;
    const tenfold = (id: string, of: string) => `<g id="${id}">${`<use href="#${of}"/>`.repeat(10)}</g>`;
    const levels = Array.from({ length: 9 }, (_, n) => tenfold(`l${n + 1}`, `l${n}`)).join('');
    for (const bomb of [
      svg(`<g id="l0"><rect width="1" height="1"/></g>${levels}`),
      svg('<g id="a"><use href="#a"/></g>'),
      svg('<g id="a"><use href="#b"/></g><g id="b"><use xlink:href="#a"/></g>'),
      svg(`<rect id="r"/>${'<use href="#r"/>'.repeat(50_001)}`),
    ])
      expect(() => cleanSvg(bomb)).toThrow('cannot be kept');
    const fine = svg(
      `<g id="l0"><rect width="1" height="1"/></g>${levels.split('</g>').slice(0, 3).join('</g>')}</g><use href="#l3"/>`,
    );
    expect(cleanSvg(fine)).toContain('href="#l3"');
  });

  it('keeps all of what stands beside each other, however much it is', () => {
    const many = (piece: string) => piece.repeat(400);
    for (const html of [
      many('<p>a<br />b</p>'),
      many('<p>a</p><hr /><img src="/media/3/640.webp" alt="" width="6" height="4" />'),
      `<ul>${many('<li>a</li>')}</ul>`,
      many('<h2>a</h2><p><strong>b</strong> <em>c</em></p>'),
    ])
      expect(cleanHtml(html)).toBe(html);
    expect(cleanHtml(many('<p>a'))).toBe(many('<p>a</p>'));
    const svg = `<svg>${many('<path d="M0 0"/><g><rect width="1"/><use href="#a"/></g>')}</svg>`;
    expect(cleanSvg(svg).match(/<(path|g|rect|use)\b/g)).toHaveLength(1600);
  });

  it('keeps what rich text may hold', () => {
    const fine =
      '<h2>A</h2><p>b <strong>c</strong> <em>d</em> <a href="/huts/">e</a><br />f</p><ol start="3"><li>g</li></ol><blockquote><p>h</p></blockquote><img src="/media/3/640.webp" alt="i" width="640" height="400" />';
    expect(cleanHtml(fine)).toBe(fine);
    expect(cleanHtml('<p></p><p>a</p><p></p>')).toBe('<p>a</p>');
    expect(cleanHtml(`${'<blockquote>'.repeat(3000)}x`).length).toBeLessThan(3000);
  });

  it.each([
    '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script><rect width="9" height="9"/></svg>',
    '<svg xmlns="http://www.w3.org/2000/svg" onload="alert(1)"><rect onclick="x()" width="9" height="9"/></svg>',
    '<svg xmlns="http://www.w3.org/2000/svg"><foreignObject><body xmlns="http://www.w3.org/1999/xhtml"><script>x()</script></body></foreignObject></svg>',
    '<svg xmlns="http://www.w3.org/2000/svg"><a href="javascript:alert(1)"><text>x</text></a></svg>',
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"><use xlink:href="https://e.example/x.svg#a"/><image href="https://e.example/t.gif"/></svg>',
    '<svg xmlns="http://www.w3.org/2000/svg"><style>@import url(https://e.example/x.css);</style><rect fill="url(https://e.example/#a)" style="fill:url(javascript:x)"/></svg>',
    '<svg xmlns="http://www.w3.org/2000/svg"><set attributeName="href" to="javascript:alert(1)"/><animate attributeName="href" values="javascript:x"/></svg>',
    '<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg"><text>&x;</text></svg>',
  ])('leaves only shapes and paint of %s', (svg) => {
    expect(cleanSvg(svg)).not.toMatch(
      /script|on\w+=|foreign|javascript|e\.example|<a\b|<style|style=|<image|<set|animate|ENTITY/i,
    );
  });

  it('keeps a drawing as it looks', async () => {
    const svg =
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 40" width="40" height="40"><defs><linearGradient id="g"><stop offset="0" stop-color="#fff"/><stop offset="1" stop-color="#5b2b4c"/></linearGradient></defs><rect width="40" height="40" fill="url(#g)"/><path d="M4 4 L36 36" stroke="#000" stroke-width="3"/></svg>';
    const look = (text: string) => sharp(Buffer.from(text)).raw().toBuffer();
    expect((await look(cleanSvg(svg))).equals(await look(svg))).toBe(true);
  });
});

describe('pictures', () => {
  it('are known by how light and how dark they are, so that white words read on every place of one', async () => {
    // A slope of greys with a warm spot: what is under the words is lightest there.
    const [width, height] = [160, 90];
    const raw = Buffer.alloc(width * height * 3);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const spot = Math.hypot(x - 40, y - 40) < 12;
        const grey = 20 + Math.round((x / width) * 120);
        raw.set(spot ? [250, 190, 90] : [grey, grey, grey], (y * width + x) * 3);
      }
    const bytes = await sharp(raw, { raw: { width, height, channels: 3 } })
      .png()
      .toBuffer();
    const media = await addBytes('slope.png', bytes);
    expect(media.lightest).toMatch(/^#[0-9a-f]{6}$/);
    expect(await readMedia(media.id)).toMatchObject({ lightest: media.lightest, darkest: media.darkest });
    const strength = tintOver(media.lightest!, 'dark') / 100;
    // Compositing by another program, and the contrast of each pixel as WCAG 2.2 has it.
    const tinted = await sharp(bytes)
      .composite([
        { input: { create: { width, height, channels: 4, background: { r: 0, g: 0, b: 0, alpha: strength } } } },
      ])
      .removeAlpha()
      .raw()
      .toBuffer();
    let worst = 21;
    for (let at = 0; at < tinted.length; at += 3)
      worst = Math.min(worst, contrast('#ffffff', `rgb(${tinted[at]} ${tinted[at + 1]} ${tinted[at + 2]})`));
    expect(worst).toBeGreaterThanOrEqual(4.5);
    expect(strength).toBeLessThan(0.62);
    // Pictures from before anybody looked are looked at when the application starts.
    await run('UPDATE media SET lightest = NULL, darkest = NULL WHERE id = ?', [media.id]);
    await fillPictureColours();
    expect((await readMedia(media.id)).lightest).toBe(media.lightest);
  });
});
