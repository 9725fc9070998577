import { describe, expect, it } from 'vitest';
import { contrast, inkOn } from '../../src/lib/core/theme/contrast';
import { fromDesignTokens, toDesignTokens } from '../../src/lib/core/theme/design-tokens';
import { BUILT_IN, completeTheme, themeCss } from '../../src/lib/core/theme/theme';
import { ThemeSchema, type Theme } from '../../src/lib/core/schema/theme';

const read = (input: unknown) => {
  const made = fromDesignTokens(input);
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return made.value;
};
const EMPTY: Theme = { colour: [], font: [], size: [], space: [], radius: [], shadow: [] };

describe('a theme', () => {
  it('is CSS variables', () => {
    expect(ThemeSchema.safeParse(BUILT_IN).success).toBe(true);
    const css = themeCss(BUILT_IN);
    expect(css).toContain('--colour-ink:#1f2622');
    expect(css).toContain(
      "--font-display:'Fraunces Variable','Noto Sans JP Variable',Georgia,serif".replace(',Georgia', ",'Georgia'"),
    );
    expect(css).toContain('--shadow-m:0 6px 18px 0 #1f26222e');
  });

  it('always has what the site’s own style sheet uses', () => {
    const own = { ...EMPTY, colour: [{ key: 'ink', name: 'Ink', value: '#000000' }] };
    const whole = completeTheme(own);
    expect(whole.colour[0]?.value).toBe('#000000');
    expect(whole.colour).toHaveLength(BUILT_IN.colour.length);
    expect(whole.space).toEqual(BUILT_IN.space);
  });

  it('refuses what could leave its declaration, and keys that stand twice', () => {
    const bad = (part: object) => ThemeSchema.safeParse({ ...EMPTY, ...part }).success;
    expect(bad({ colour: [{ key: 'a', name: 'A', value: 'red' }] })).toBe(false);
    expect(bad({ colour: [{ key: 'a', name: 'A', value: '#12345;' }] })).toBe(false);
    expect(bad({ font: [{ key: 'a', name: 'A', value: ["x';}"] }] })).toBe(false);
    expect(bad({ size: [{ key: 'a', name: 'A', value: '1rem;' }] })).toBe(false);
    expect(bad({ size: ['a', 'a'].map((key) => ({ key, name: 'A', value: '1rem' })) })).toBe(false);
    expect(bad({ size: [{ key: 'a', name: 'A', value: '1rem' }] })).toBe(true);
  });
});

describe('contrast', () => {
  // WCAG 2.2, relative luminance: black on white is 21; #777777 on white is 4.48, #767676 is 4.54 (from memory of the
  // figures that technique G18 is usually shown with).
  it('is that of WCAG 2.2', () => {
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5);
    expect(contrast('#777777', '#ffffff')).toBeCloseTo(4.48, 2);
    expect(contrast('#767676', '#ffffff')).toBeCloseTo(4.54, 2);
    expect(contrast('no colour', '#ffffff')).toBe(1);
  });
  it('decides the ink on a coloured ground', () => {
    expect(inkOn('#ffee88')).toBe('#1a1a1a');
    expect(inkOn('#26392f')).toBe('#ffffff');
    expect(inkOn('rgb(10 20 30)')).toBe('#ffffff');
    for (let grey = 0; grey < 256; grey += 5) {
      const ground = `#${grey.toString(16).padStart(2, '0').repeat(3)}`;
      expect(contrast(inkOn(ground), ground)).toBeGreaterThan(4.2);
    }
  });
});

describe('design tokens', () => {
  it('come back as they went', () => {
    expect(read(JSON.parse(JSON.stringify(toDesignTokens(BUILT_IN))))).toEqual({ theme: BUILT_IN, left: [] });
  });

  // Design Tokens Format Module (community group report 2025.10), from memory: $type may stand at the group, colours
  // are components in a space with an optional hex, dimensions a value with px or rem, aliases are in braces.
  it('are read by the rules of the format', () => {
    const { theme, left } = read({
      brand: {
        $type: 'color',
        red: { $value: { colorSpace: 'srgb', components: [1, 0, 0.2], alpha: 0.5 } },
        sky: { $value: { colorSpace: 'oklch', components: [0.7, 0.1, 240] } },
        also: { $value: '{brand.red}', $description: 'Second red' },
        old: { $value: '#AABBCC' },
      },
      'corner-radius': { m: { $type: 'dimension', $value: { value: 8, unit: 'px' } } },
      text: { big: { $type: 'dimension', $value: '2rem' } },
      gutter: { $type: 'dimension', $value: { value: 0, unit: 'px' } },
      type: { body: { $type: 'fontFamily', $value: ['Inter', 'sans-serif'] } },
      move: { $type: 'duration', quick: { $value: { value: 100, unit: 'ms' } } },
      raised: {
        $type: 'shadow',
        $value: [{ color: '#00000080', offsetX: '0', offsetY: { value: 2, unit: 'px' }, blur: '4px', spread: '0' }],
      },
    });
    expect(theme.colour.map(({ key, name, value }) => [key, name, value])).toEqual([
      ['red', 'red', '#ff003380'],
      ['sky', 'sky', expect.stringMatching(/^#[0-9a-f]{6}$/)],
      ['also', 'Second red', '#ff003380'],
      ['old', 'old', '#aabbcc'],
    ]);
    expect(theme.radius).toEqual([{ key: 'm', name: 'm', value: '8px' }]);
    expect(theme.size).toEqual([{ key: 'big', name: 'big', value: '2rem' }]);
    expect(theme.space).toEqual([{ key: 'gutter', name: 'gutter', value: '0' }]);
    expect(theme.font[0]?.value).toEqual(['Inter', 'sans-serif']);
    expect(theme.shadow[0]?.value).toEqual({ colour: '#00000080', x: '0', y: '2px', blur: '4px', spread: '0' });
    expect(left).toEqual(['move.quick']);
  });

  it.each([
    ['no object', [], 'A file of design tokens is a JSON object'],
    [
      'an alias in a circle',
      { a: { $type: 'color', $value: '{b}' }, b: { $type: 'color', $value: '{a}' } },
      'leads back to itself',
    ],
    ['an alias to nothing', { a: { $type: 'color', $value: '{x.y}' } }, 'leads to no token'],
    ['an alias to what all objects have', { a: { $type: 'color', $value: '{constructor}' } }, 'leads to no token'],
    ['a colour that is none', { a: { $type: 'color', $value: 'plaid' } }, 'is no color that can be read'],
    ['a length in miles', { a: { $type: 'dimension', $value: '3mi' } }, 'is no dimension that can be read'],
  ])('refuse %s', (_name, input, what) => {
    const made = fromDesignTokens(input);
    expect(made.ok ? [] : made.problems.map((p) => p.what).join(' ')).toContain(what);
  });

  it('of great depth do not end the program', () => {
    let deep: object = { $type: 'color', $value: '#112233' };
    for (let i = 0; i < 5000; i++) deep = { a: deep };
    expect(read(deep).theme).toEqual(EMPTY);
  });
});
