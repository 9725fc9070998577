import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { classOf, compileTree } from '../../src/lib/core/render/compile';
import { confineCss } from '../../src/lib/core/styles/confine';
import { properties, propertyNamed } from '../../src/lib/core/styles/properties';
import { elementNamed, elements } from '../../src/lib/core/elements';
import { fits } from '../../src/lib/core/styles/fits';
import { valueOf } from '../../src/lib/core/styles/property';
import { screenOf, styleAt, pageGroundCss, styleCss, styleProblems } from '../../src/lib/core/styles/style';

import { treeFrom } from '../../src/lib/core/templates/build';
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
    // Every name that a face has is one that can be set.
    for (const { name, face } of elements)
      for (const one of face?.has ?? []) expect([name, one, Boolean(propertyNamed(one))]).toEqual([name, one, true]);
  });

  it('of what is seen on something in an element are set there, and shares leave room for gaps', () => {
    const face = { selector: 'a', has: new Set(['ground']) };
    const style = { wide: { ground: 'deep', above: 's' }, narrow: { ground: 'tint' } };
    expect(styleCss('x', style, face)).toBe(
      '.x{margin-block-start:var(--space-s)}.x a{background-color:var(--colour-deep)}' +
        '@media (max-width:599px){.x a{background-color:var(--colour-tint)}}',
    );
    expect(pageGroundCss('x', style)).toBe(
      'body:has(.x){background-color:var(--colour-deep)}' +
        '@media (max-width:599px){body:has(.x){background-color:var(--colour-tint)}}',
    );
    expect(styleCss('x', { wide: { width: 'sixth' } })).toContain('* 0.16666 -');
    expect(styleCss('x', { wide: { across: 'center' }, narrow: { maxWidth: '20rem' } })).toBe(
      '.x{align-self:center;margin-inline:auto}@media (max-width:599px){.x{max-width:20rem;width:100%}}',
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
      for (const bad of ['', 'red;}', '1px 2px', 'url(x)', 'var(--x)', '}', 'expression(1)', NaN, 1e9])
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
      `.${name}{gap:var(--space-s)}.${name}.row>*{--share-gap:var(--space-s)}.${name} a{color:red}`,
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
