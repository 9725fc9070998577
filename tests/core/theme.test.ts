import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { contrast, inkOn } from '../../src/lib/core/theme/contrast';
import { onColour, onToken } from '../../src/lib/core/theme/background';
import { tintOver } from '../../src/lib/core/theme/tint';
import { fromDesignTokens, toDesignTokens } from '../../src/lib/core/exchange/design-tokens';
import { BUILT_IN, completeTheme, themeCss } from '../../src/lib/core/theme/theme';
import { ThemeSchema, type Theme } from '../../src/lib/core/schema/theme';

const read = (input: unknown) => {
  const made = fromDesignTokens(input);
  if (!made.ok) throw new Error(JSON.stringify(made.problems));
  return made.value;
};
const EMPTY: Theme = { colour: [], font: [], size: [], space: [], radius: [], shadow: [], looks: [], typefaces: [] };

describe('a theme', () => {
  it('is CSS variables', () => {
    expect(ThemeSchema.safeParse(BUILT_IN).success).toBe(true);
    const css = themeCss(BUILT_IN);
    expect(css).toContain('--colour-ink:#1f2622');
    expect(css).toMatch(
      /--font-display:'Fraunces Variable',('Fraunces Variable Fallback: [\w ]+',)+'Noto Sans JP Variable','Georgia',serif;/,
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

/** Relative luminance and contrast as WCAG 2.2 writes them (its definitions of these terms), by hand. */
const luminance = (hex: string): number => {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const c = parseInt(hex.slice(at, at + 2), 16) / 255;
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
};
const ratio = (a: string, b: string): number => {
  const [x, y] = [luminance(a), luminance(b)];
  return (Math.max(x, y) + 0.05) / (Math.min(x, y) + 0.05);
};
const anyColour = fc
  .tuple(...[0, 1, 2].map(() => fc.integer({ min: 0, max: 255 })))
  .map((parts) => `#${parts.map((one) => one.toString(16).padStart(2, '0')).join('')}`);

describe('a ground', () => {
  it('brings text, quiet text and links that read on it, whatever colour it is', () => {
    fc.assert(
      fc.property(anyColour, (value) => {
        const theme = { ...BUILT_IN, colour: [...BUILT_IN.colour, { key: 'own', name: 'Own', value }] };
        for (const on of [onToken('own', theme), onColour(value)])
          for (const part of ['text', 'quiet', 'link'] as const)
            expect([value, part, ratio(on[part], value) >= 4.499]).toEqual([value, part, true]);
      }),
      { numRuns: 500 },
    );
    expect(onToken('deep', BUILT_IN)).toMatchObject({ text: '#f4f6f1' });
    // What reads of the theme is of the theme.
    expect(onToken('tint', BUILT_IN)).toMatchObject({ text: '#1f2622', quiet: '#57615b', link: '#7a3b1d' });
    expect(themeCss(BUILT_IN)).toContain('--on-deep:#f4f6f1;');
  });

  it('that is a picture is tinted as much as that picture needs, and no more', () => {
    fc.assert(
      fc.property(anyColour, fc.constantFrom('dark' as const, 'light' as const), (bound, tint) => {
        const strength = tintOver(bound, tint);
        const [text, over] = tint === 'dark' ? ['#ffffff', 0] : ['#1a1a1a', 255];
        const seen = (percent: number) =>
          `#${[1, 3, 5]
            .map((at) => {
              const below = parseInt(bound.slice(at, at + 2), 16);
              return Math.round(over * (percent / 100) + below * (1 - percent / 100))
                .toString(16)
                .padStart(2, '0');
            })
            .join('')}`;
        expect([bound, ratio(text, seen(strength)) >= 4.45]).toEqual([bound, true]);
        if (strength) expect([bound, ratio(text, seen(strength - 5)) < 4.55]).toEqual([bound, true]);
      }),
      { numRuns: 500 },
    );
    expect([tintOver('#ffffff', 'dark'), tintOver('#000000', 'dark'), tintOver('#ffffff', 'light')]).toEqual([
      55, 0, 0,
    ]);
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
      expect(contrast(inkOn(ground), ground)).toBeGreaterThanOrEqual(4.5);
    }
  });
});

describe('design tokens', () => {
  it('come back as they went', () => {
    expect(read(JSON.parse(JSON.stringify(toDesignTokens(BUILT_IN))))).toEqual({ theme: BUILT_IN, left: [] });
    const style = {
      wide: {
        font: 'display',
        size: 'xl',
        weight: '650',
        border: '2px',
        borderColour: 'line',
        shadow: 'm',
        change: 'quick',
      },
      narrow: { 'ground@hover': 'deep', size: '1rem' },
    };
    const looked = { ...BUILT_IN, looks: [{ key: 'pill', name: 'Pill', kind: 'button', style }] };
    const file = JSON.parse(JSON.stringify(toDesignTokens(looked))) as { look: { pill: Record<string, unknown> } };
    expect(read(file)).toEqual({ theme: looked, left: [] });
    expect(file.look.pill.typography).toEqual({
      $type: 'typography',
      $value: {
        fontFamily: '{font.display}',
        fontSize: '{size.xl}',
        fontWeight: 650,
        lineHeight: 1.6,
        letterSpacing: { value: 0, unit: 'px' },
      },
    });
    expect(file.look.pill.border).toEqual({
      $type: 'border',
      $value: { color: '{colour.line}', width: { value: 2, unit: 'px' }, style: 'solid' },
    });
    // Typography of another program becomes a look for text.
    const other = read({
      heading: {
        $type: 'typography',
        $value: {
          fontFamily: ['Some Serif', 'serif'],
          fontSize: { value: 2, unit: 'rem' },
          fontWeight: 'bold',
          letterSpacing: { value: 1, unit: 'px' },
          lineHeight: 1.2,
        },
      },
    }) as { theme: Theme };
    expect(other.theme.looks).toEqual([
      {
        key: 'heading',
        name: 'heading',
        kind: 'text',
        style: { wide: { font: 'some-serif', size: '2rem', weight: '650', tracking: '1px', leading: 1.2 } },
      },
    ]);
    expect(other.theme.font).toEqual([{ key: 'some-serif', name: 'Some Serif', value: ['Some Serif', 'serif'] }]);
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
