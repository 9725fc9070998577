import { generate, lexer, parse, walk } from 'css-tree';
import { readdirSync, readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { classOf, compileTree } from '../../src/lib/core/render/compile';
import { confineCss } from '../../src/lib/core/styles/confine';
import { properties, propertyNamed } from '../../src/lib/core/styles/properties';
import { elementNamed, elements } from '../../src/lib/core/elements';
import { face, fits, keyFor, readKey, STATES } from '../../src/lib/core/styles/boxes';
import { valueOf } from '../../src/lib/core/styles/property';
import {
  lookProblems,
  screenOf,
  styleAt,
  pageBackgroundCss,
  styleCss,
  styleProblems,
} from '../../src/lib/core/styles/style';

import { mendOf } from '../../src/lib/core/checks/mends';
import { lookAt, lookEdit } from '../../src/lib/core/templates/looks';
import { applyEdit } from '../../src/lib/core/templates/edits';
import { missingTokens } from '../../src/lib/core/checks/tokens';
import type { Style } from '../../src/lib/core/schema/style';
import { knownSelectors, knownVariables } from '../../src/lib/core/styles/known';
import { unknownVariables } from '../../src/lib/core/styles/unknown-variables';
import { BUILT_IN, themeCss } from '../../src/lib/core/theme/theme';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { parseTree } from '../../src/lib/core/templates/parse';
import { envOf, houseScopes, index, record } from '../support/world';

const confined = (css: string) => confineCss(css, 'own');

describe('own CSS', () => {
  it.each([
    ['a { color: red }', '.own a{color:red}'],
    ['& { color: red }', '.own{color:red}'],
    ['&:hover > a, h2 { margin: 0 }', '.own:hover>a,.own h2{margin:0}'],
    ['> p + p { margin: 0 }', '.own>p+p{margin:0}'],
    [':scope a { margin: 0 }', '.own a{margin:0}'],
    ['@media (width < 600px) { a { margin: 0 } }', '@media (width<600px){.own a{margin:0}}'],
    ['& { background: url(/media/3/960.webp) }', '.own{background:url(/media/3/960.webp)}'],
  ])('of %s begins at the element', (css, expected) => {
    expect(confined(css)).toEqual({ css: expected, problems: [] });
  });

  it('has names of its own for what moves', () => {
    const { css, problems } = confined('@keyframes turn { to { rotate: 1turn } } a { animation: turn 2s }');
    expect(problems).toEqual([]);
    expect(css).toBe('@keyframes own-turn{to{rotate:1turn}}.own a{animation:own-turn 2s}');
  });

  it.each([
    ['a {}\n\n@import "https://x.example/a.css";', 3],
    ['@font-face { font-family: x; src: url(/a.woff2) }', 1],
    ['a {}\n& + p { color: red }', 2],
    ['& ~ p { color: red }', 1],
    ['+ p { color: red }', 1],
    ['html { color: red }', 1],
    ['body p { color: red }', 1],
    [':root { --x: 1 }', 1],
    ['p & { color: red }', 1],
    ['& & { color: red }', 1],
    ['a { position: fixed }', 1],
    ['a {\n  color: red;\n  background: url(https://x.example/y.png) }', 3],
    ['a { background: url("//x.example/y.png") }', 1],
    ['a { background: url(data:image/svg+xml,x) }', 1],
    ['a { --x: url(https://x.example/y.png) }', 1],
    ['a { background: image-set("https://x.example/y.png" 1x) }', 1],
    ['a { behavior: url(/media/1/x.htc) }', 1],
    ['a { width: expression(alert(1)) }', 1],
    ['@page { margin: 0 }', 1],
    ['a { color: red', 1],
    ['a { color red; margin: 0 }', 1],
    ['} a { color: red }', 1],
  ])('refuses %j and says at which line', (css, line) => {
    const { css: left, problems } = confined(css);
    if (css !== 'a { color: red') expect(problems[0]?.line).toBe(line);
    expect(left).not.toMatch(/x\.example|@import|@font-face|fixed|expression|behavior|data:/);
    expect(left).not.toMatch(/\.own\s*[+~]|(^|[},])\s*(html|body|:root)/);
  });

  it('keeps what is right beside what is wrong', () => {
    const { css, problems } = confined('a { position: fixed; color: red } html { color: blue } b { margin: 0 }');
    expect(css).toBe('.own a{color:red}.own b{margin:0}');
    expect(problems).toHaveLength(2);
  });

  it('of any text at all chooses only the element and what it holds', () => {
    const pieces = [
      'a',
      '&',
      '>',
      '+',
      '~',
      ' ',
      ',',
      ':root',
      'html',
      '*',
      '.x',
      ':is(',
      ')',
      ':not(',
      ':has(',
      '{',
      '}',
      'color:red;',
      '@media print{',
      '@import "x";',
      '/*',
      '*/',
      '"',
      '\\',
      '\n',
    ];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...pieces), { maxLength: 14 }), (parts) => {
        const { css } = confined(`${parts.join('')}{color:red}`);
        // Every selector outside of groups begins with the class; an escaped character is a letter like any other.
        for (const [, prelude] of css
          .replace(/\\./g, 'x')
          .replace(/"[^"]*"/g, '')
          .matchAll(/(?:^|[{}])([^{}@]+)\{/g))
          for (const selector of (prelude as string).split(/,(?![^(]*\))/))
            expect(selector.trim().startsWith('.own')).toBe(true);
        expect(css).not.toMatch(/\.own\s*[+~]/);
      }),
      { numRuns: 800 },
    );
  });
});

describe('the style sheet that every site has', () => {
  it('sets type on the scale of the theme alone', () => {
    const files = ['src/lib/site', 'src/lib/core/elements'].flatMap((folder) =>
      readdirSync(folder)
        .filter((name) => name.endsWith('.css') && !['site.css', 'drawings.css'].includes(name))
        .map((name) => `${folder}/${name}`),
    );
    const own: string[] = [];
    for (const file of files)
      walk(parse(readFileSync(file, 'utf8')), (node) => {
        if (node.type !== 'Declaration' || node.property !== 'font-size') return;
        const value = generate(node.value);
        // Of the theme, or of what it stands in.
        if (!value.includes('var(--size-') && !/^(inherit|[\d.]+(em|%))$/.test(value)) own.push(`${file}: ${value}`);
      });
    expect(own).toEqual([]);
  });
});

describe('names that own CSS knows', () => {
  const known = knownVariables(BUILT_IN);

  it('are the tokens of the theme with their values, what reads on each, and the boxes of the element', () => {
    const says = (name: string) => known.find((one) => one.name === name)?.says;
    expect(says('--colour-deep')).toBe('Deep, #26392f');
    expect(says('--space-m')).toBe('Medium, 1rem');
    expect(says('--on-deep')).toContain('#f4f6f1');
    // Each is set by the theme's own sheet, or by the site's.
    const sheet = themeCss(BUILT_IN);
    const site = ['--text', '--text-quiet', '--text-link', '--line', '--gap', '--share-gap'];
    expect(known.filter(({ name }) => !sheet.includes(`${name}:`)).map(({ name }) => name)).toEqual(site);
    expect(knownSelectors(elementNamed('picture')!.boxes)).toEqual([
      { name: '&', says: 'the element itself' },
      { name: '& img', says: 'what its looks are seen on' },
      { name: '& figcaption', says: 'Caption' },
    ]);
  });

  it('are told at the line where one is none', () => {
    const css = '& { --own: 1px; margin: var(--own) }\na {\n  color: var(--colour-gone);\n  gap: var(--gone, 2px) }';
    expect(unknownVariables(css, known)).toEqual([
      { line: 3, column: 14, what: expect.stringContaining('There is no variable --colour-gone') as string },
    ]);
    const tree = treeFrom({ kind: 'text', css });
    expect(missingTokens(tree, BUILT_IN)).toMatchObject([{ via: 'css', at: 'css.3' }]);
    expect(unknownVariables('a { color: var(', known)).toEqual([]);
  });
});

describe('looks', () => {
  it('hold at a width and below, until a narrower one says otherwise', () => {
    const style = { wide: { above: 'l', size: 'xl' }, medium: { above: 's' }, narrow: { size: '1rem' } };
    expect(styleAt(style, 'above', 'wide')).toEqual({ value: 'l', from: 'wide' });
    expect(styleAt(style, 'above', 'narrow')).toEqual({ value: 's', from: 'medium' });
    expect(styleAt(style, 'size', 'medium')).toEqual({ value: 'xl', from: 'wide' });
    expect(styleAt(style, 'gap', 'narrow')).toBeUndefined();
    expect(styleCss('x', style)).toBe(
      '.x{margin-block-start:var(--space-l);font-size:var(--size-xl)}' +
        '@media (max-width:1023px){.x{margin-block-start:var(--space-s)}}' +
        '@media (max-width:599px){.x{font-size:1rem}}',
    );
    expect([1280, 1024, 1023, 600, 599, 390].map(screenOf)).toEqual([
      'wide',
      'wide',
      'medium',
      'medium',
      'narrow',
      'narrow',
    ]);
  });

  it('are offered where they can be seen', () => {
    const offered = (name: string, kind: string) => fits(name, elementNamed(kind)!);
    expect([offered('gap', 'box'), offered('gap', 'heading')]).toEqual([true, false]);
    expect([offered('weight', 'heading'), offered('weight', 'spacer')]).toEqual([true, false]);
    expect(offered('above', 'spacer')).toBe(true);
    // Every name that a box has is one that can be set, and no box of a kind is named twice for one of them.
    for (const kind of elements)
      for (const { name, has } of kind.boxes ?? [])
        for (const one of has) {
          expect([kind.name, one, Boolean(propertyNamed(one))]).toEqual([kind.name, one, true]);
          expect(kind.boxes!.filter((box) => box.name === name && box.has.has(one))).toHaveLength(1);
        }
  });

  it('are named by box, property and state', () => {
    expect(readKey('caption.colour@hover')).toMatchObject({
      box: 'caption',
      property: { name: 'colour' },
      state: 'hover',
    });
    expect(readKey('above')).toMatchObject({ box: '', property: { name: 'above' } });
    for (const bad of ['', 'x.y', 'colour@once', '.colour', 'a.b.colour', 'colour@', `${'a'.repeat(80)}.colour`])
      expect([bad, readKey(bad)]).toEqual([bad, undefined]);
    for (const { name } of properties)
      for (const box of ['', 'caption'])
        for (const state of [undefined, ...STATES]) {
          const known = readKey(keyFor(box, name, state))!;
          expect([known.box, known.property.name, known.state]).toEqual([box, name, state]);
        }
  });

  it('of what can be pointed at follow it, and of visited links only the colour can', () => {
    const link = elementNamed('button')!;
    const style = { wide: { ground: 'deep', 'ground@hover': 'accent', 'shiftY@hover': '-2px', change: 'quick' } };
    const css = styleCss('x', style, link);
    expect(css).toContain('.x a:hover{background-color:var(--colour-accent);');
    expect(css).toContain(
      '.x a:hover{background-color:var(--colour-accent);' +
        css.slice(css.indexOf('--text:var(--on-accent)'), css.indexOf('translate')) +
        'translate:0 -2px}',
    );
    expect(css).toMatch(/@media \(prefers-reduced-motion:no-preference\)\{\.x a\{transition:/);
    expect(fits('ground', link, '', 'visited')).toBe(false);
    expect(fits('colour', link, '', 'visited')).toBe(true);
    // A card as a whole has the focus while something in it has.
    expect(styleCss('x', { wide: { 'shadow@focus': 'l' } }, elementNamed('box')!)).toBe(
      '.x:focus-within{box-shadow:var(--shadow-l)}',
    );
    expect(fits('ground', elementNamed('heading')!, '', 'hover')).toBe(false);
  });

  it('of words before a value are in an element of its own, and only with such looks', () => {
    const draw = (style?: Style) => {
      const tree = treeFrom({
        kind: 'text',
        slots: { text: boundTo('record', ['@title'], { before: 'Name: ', after: '!' }) },
        ...(style && { style }),
      });
      const made = compileTree(tree, houseScopes, index);
      return { html: made.draw(envOf([record(1, 'house')])), css: made.css };
    };
    expect(draw().html).not.toContain('span');
    const { html, css } = draw({ wide: { 'before.weight': '650' } });
    expect(html).toMatch(/<p class="text [\w-]+"><span class="before">Name: <\/span>.*!<\/p>/);
    expect(css).toMatch(/\.[\w-]+ \.before\{font-weight:650\}/);
  });

  it('by name stand below those of an element, for each kind on the boxes that it has', () => {
    const looks = [{ key: 'pill', name: 'Pill', kind: 'button', style: { wide: { ground: 'deep', above: 's' } } }];
    const tree = treeFrom({
      kind: 'box',
      look: 'pill',
      children: [
        { kind: 'button', look: 'pill', style: { wide: { ground: 'tint' } }, slots: { link: { fixed: '/' } } },
        { kind: 'text', look: 'gone' },
      ],
    });
    const made = compileTree(tree, houseScopes, index, { looks });
    const at = (text: string) => made.css.indexOf(text);
    expect(at('.look-pill-on-box{')).toBeGreaterThanOrEqual(0);
    expect(at('.look-pill-on-button a{background-color:var(--colour-deep)')).toBeGreaterThan(0);
    expect(at('var(--colour-tint)')).toBeGreaterThan(at('.look-pill-on-button a{'));
    expect(made.draw(envOf([record(1, 'house')]))).toMatch(/class="link look-button look-pill-on-button [\w-]+"/);
    expect(missingTokens(tree, BUILT_IN).map(({ what }) => what)).toEqual([
      'It has the look “pill”, which the theme no longer has.',
      'It has the look “pill”, which the theme no longer has.',
      'It has the look “gone”, which the theme no longer has.',
    ]);
    expect(missingTokens(tree, { ...BUILT_IN, looks })).toHaveLength(1);
  });

  it('come to CSS that css-tree’s validator of the W3C’s grammars takes, for every box, state and width', () => {
    // Written in ways that these grammars do not know yet (css-tree 3.2.1, mdn-data).
    const unknown = new Set(['-webkit-box-orient', '-webkit-line-clamp']);
    const wrong: string[] = [];
    for (const kind of elements)
      for (const box of ['', ...(kind.boxes ?? []).map(({ name }) => name)])
        for (const property of properties)
          for (const state of [undefined, ...STATES]) {
            if (!fits(property.name, kind, box, state)) continue;
            const { control } = property;
            const values =
              control.as === 'pick'
                ? control.options.map(({ value }) => value)
                : control.as === 'number'
                  ? [control.min, control.max]
                  : control.as === 'length'
                    ? [...control.steps.map(({ value }) => value), '0', '1rem', ...(control.noShares ? [] : ['12.5%'])]
                    : [
                        'm',
                        ...(control.own === 'shadow' ? ['2px 2px 11px 2px #1f262240'] : control.own ? ['12px'] : []),
                      ];
            for (const value of values) {
              const key = keyFor(box, property.name, state);
              const css = styleCss('x', { wide: { [key]: value }, narrow: { [key]: value } }, kind);
              walk(parse(css, { parseValue: true, onParseError: (error) => wrong.push(`${key}: ${error.message}`) }), {
                visit: 'Declaration',
                enter(node) {
                  if (node.property.startsWith('--') || unknown.has(node.property)) return;
                  const { error } = lexer.matchProperty(node.property, node.value);
                  if (error && !generate(node.value).includes('var('))
                    wrong.push(`${kind.name} ${key}: ${generate(node)}`);
                },
              });
            }
          }
    expect([...new Set(wrong)]).toEqual([]);
  });

  it('that a prop brought with others are set by themselves, and the others stay', () => {
    const box = elementNamed('box')!;
    const element = { id: 'b', kind: 'box', props: { ground: 'lined' }, slots: {}, children: [] };
    expect(lookAt(element, box, undefined, 'border', 'wide')).toEqual({ value: '1px', from: 'start' });
    const edited = (key: string, value: string | undefined) => {
      const done = applyEdit(
        { root: 'b', elements: { b: element } },
        { label: 'Set', operations: lookEdit(element, box, key, 'wide', value) },
      );
      return done.ok ? done.value.tree.elements.b! : undefined;
    };
    expect(edited('borderColour', 'deep')).toMatchObject({
      props: { ground: 'none' },
      style: { wide: { border: '1px', borderColour: 'deep' } },
    });
    expect(edited('border', undefined)!.style).toEqual({ wide: { borderColour: 'line' } });
  });

  it('by name give a page its ground, as its own looks do', () => {
    const looks = [{ key: 'dark', name: 'Dark', kind: 'box', style: { wide: { ground: 'deep' } } }];
    const tree = treeFrom({ kind: 'box', look: 'dark', children: [{ kind: 'box', look: 'dark' }] });
    const { css } = compileTree(tree, houseScopes, index, { looks });
    const name = classOf(tree.elements[tree.root]!);
    expect(css).toContain(`body:has(.${name}){background-color:var(--colour-deep)`);
    expect(css).not.toContain('body:has(.look-');
  });

  it('of a token that goes while forty use it are told at each, mended in one step, and look as if nothing were set', () => {
    const tree = treeFrom({
      kind: 'box',
      children: Array.from({ length: 40 }, () => ({
        kind: 'text',
        style: { wide: { colour: 'gone', weight: '650' } },
      })),
    });
    const ends = missingTokens(tree, BUILT_IN);
    expect(ends).toHaveLength(40);
    const [end] = ends;
    const mend = mendOf(end!, { tree, elements: new Map(), model: index, theme: BUILT_IN })!;
    const mended = applyEdit(tree, mend);
    expect(mended.ok && missingTokens(mended.value.tree, BUILT_IN)).toHaveLength(39);
    expect(mended.ok && mended.value.tree.elements[end!.elementId]!.style).toEqual({ wide: { weight: '650' } });
  });

  it('that came from elsewhere and are none are never written into a sheet', () => {
    const bad = ['red;}body{display:none', '1px}*{color:red', '</style><script>', 'url(//evil.example/x)', -4, NaN];
    for (const property of properties)
      for (const value of bad) {
        const style = {
          wide: { [property.name]: value, [`${property.name}@hover`]: value },
          narrow: { [property.name]: value },
        };
        for (const kind of elements)
          expect(styleCss('x', style, kind) + pageBackgroundCss('x', style)).not.toMatch(
            /display:none\}|evil|script|NaN|\*\{/,
          );
      }
    expect(lookProblems([{ key: 'a', name: 'A', kind: 'box', style: { wide: { padding: '-4px' } } }])).toMatchObject([
      { at: 'looks.0.wide.padding', what: 'The look “A”: This cannot be less than 0.' },
    ]);
  });

  it('of what is seen on something in an element are set there, and shares leave room for gaps', () => {
    const shape = { holds: false, boxes: [face('& a', ['ground'])] };
    const style = { wide: { ground: 'deep', above: 's' }, narrow: { ground: 'tint' } };
    const ground = (key: string) => propertyNamed('ground')!.css(key);
    expect(ground('deep')).toBe(
      'background-color:var(--colour-deep);--text:var(--on-deep);--text-quiet:var(--on-deep-quiet);' +
        '--text-link:var(--on-deep-link);--line:var(--on-deep-line);color:var(--text)',
    );
    expect(styleCss('x', style, shape)).toBe(
      `.x{margin-block-start:var(--space-s)}.x a{${ground('deep')}}` +
        `@media (max-width:599px){.x a{${ground('tint')}}}`,
    );
    expect(pageBackgroundCss('x', style)).toBe(
      `body:has(.x){${ground('deep')}}@media (max-width:599px){body:has(.x){${ground('tint')}}}`,
    );
    // A colour that was chosen for every width is kept on the ground of a narrower one.
    expect(styleCss('x', { wide: { colour: 'accent' }, narrow: { ground: 'deep' } })).toBe(
      `.x{color:var(--colour-accent)}@media (max-width:599px){.x{${ground('deep')};color:var(--colour-accent)}}`,
    );
    expect(styleCss('x', { wide: { width: 'sixth' } })).toContain('* 0.16666 -');
    expect(styleCss('x', { wide: { across: 'center' }, narrow: { maxWidth: '20rem' } })).toBe(
      '.x{align-self:center;margin-inline:auto}@media (max-width:599px){.x{max-width:20rem;width:100%;--bleed:0}}',
    );
  });

  it('that belong together are one declaration, and hiding ends at the next width', () => {
    expect(styleCss('x', { wide: { shiftX: '1rem' }, narrow: { shiftY: '-2px' } })).toBe(
      '.x{translate:1rem 0}@media (max-width:599px){.x{translate:1rem -2px}}',
    );
    expect(styleCss('x', { medium: { shown: 'no' }, narrow: { shown: 'yes' } })).toBe(
      '@media (min-width:600px) and (max-width:1023px){.x{display:none}}',
    );
  });

  it('take what their control offers and nothing that could end a declaration', () => {
    for (const property of properties) {
      const { control } = property;
      const good =
        control.as === 'pick'
          ? control.options[0]!.value
          : control.as === 'number'
            ? control.min
            : control.as === 'token'
              ? 'm'
              : '12px';
      expect([property.name, valueOf(control).safeParse(good).success]).toEqual([property.name, true]);
      for (const bad of [
        '',
        'red;}',
        'calc(1px + 1px)',
        '1e9px',
        '999999px',
        '1001rem',
        '12pt',
        '1px 2px',
        'url(x)',
        'var(--x)',
        '}',
        'expression(1)',
        NaN,
        1e9,
      ])
        expect([property.name, bad, valueOf(control).safeParse(bad).success]).toEqual([property.name, bad, false]);
      expect(styleProblems({ wide: { [property.name]: good } }, 'style')).toEqual([]);
    }
    expect(styleProblems({ wide: { unheard: 'x' } }, 'style')[0]).toMatchObject({
      at: 'style.wide.unheard',
      what: expect.stringContaining('“unheard”') as string,
    });
    const tree = treeFrom({ kind: 'text' });
    const broken = {
      ...tree,
      elements: { [tree.root]: { ...tree.elements[tree.root]!, style: { wide: { size: 'a b' } } } },
    };
    expect(parseTree(broken as never).ok).toBe(false);
  });

  it('are in the page by a class that elements without looks do not have', () => {
    const tree = treeFrom({
      kind: 'box',
      children: [{ kind: 'text', name: 'Lead & more' }, { kind: 'text' }],
    });
    const [first] = tree.elements[tree.root]!.children as [string, string];
    tree.elements[first] = {
      ...tree.elements[first]!,
      style: { wide: { gap: 's' } },
      css: 'a { color: red }\nb { position: fixed }',
    };
    const made = compileTree(tree, houseScopes, index);
    const name = classOf(tree.elements[first]);
    expect(name).toMatch(/^lead-more-[a-z0-9]{5}$/);
    expect(made.css).toBe(
      `.${name}{--gap:var(--space-s);gap:var(--space-s)}.${name}.row>*{--share-gap:var(--space-s)}.${name} a{color:red}`,
    );
    const html = made.draw(envOf([record(1, 'house')]));
    expect(html).toContain(`<p class="text ${name}">`);
    expect(html).toContain('<p class="text">');
    expect(made.looseEnds.map((end) => [end.via, end.what])).toEqual([
      ['css', 'Own CSS, line 2: position: fixed would leave the element; use absolute or sticky.'],
    ]);
  });

  it('is not got round by escapes, nor by values that are only known later (CSS Syntax 3, 4.3.7)', () => {
    const ways = [
      'a { background: u\\72l(//evil.example/x) }',
      'a { background: im\\61ge-set("//evil.example/x" 1x) }',
      'a { position: f\\69xed }',
      'a { p\\6f sition: fixed }',
      'a { --p: fixed; position: var(--p) }',
      'a { position: var(--q, fixed) }',
      'a { position: FIXED }',
      'a { position: env(x, fixed) }',
      'ht\\6dl { color: red }',
      ':r\\6fot { color: red }',
      'a { behav\\69or: url(/media/1/x.htc) }',
    ];
    for (const css of ways) {
      const { css: left, problems } = confined(css);
      expect([css, problems.length > 0]).toEqual([css, true]);
      expect(left).not.toMatch(/evil|position|behav|\\/);
    }
    // In quoted text they are signs like any other.
    expect(confined('a::before { content: "\\2014 \\"" }').problems).toEqual([]);
    for (const position of ['static', 'relative', 'absolute', 'sticky', 'inherit', 'sticky !important'])
      expect(confined(`a { position: ${position} }`).problems).toEqual([]);
  });
});
