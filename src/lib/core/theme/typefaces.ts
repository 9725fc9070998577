import { createFontStack } from '@capsizecss/core';
import metrics from './metrics.json';
import type { Theme, Typeface } from '../schema/theme';

/** Names in a stack that a browser knows without a typeface (CSS Fonts 4, 2.1.1). */
export const GENERIC = /^(system-ui|ui-[a-z-]+|serif|sans-serif|monospace|cursive|fantasy|math|emoji)$/;

type Measured = Typeface['metrics'] & { familyName: string; fullName?: string; postscriptName?: string };

const SHIPPED = metrics.shipped as Record<string, Measured>;
const INSTALLED = metrics.installed as Record<'sans-serif' | 'serif' | 'monospace', Measured[]>;

/** Families that ship with the application. */
export const SHIPPED_FAMILIES: readonly string[] = [...Object.keys(SHIPPED), 'Noto Sans JP Variable'];

/** The address of a piece of a typeface that was brought, by the SHA-256 of its file. */
export const typefaceAddress = (file: string, piece: number): string => `/typefaces/${file}-${piece}.woff2`;

const sortOf = (stack: readonly string[]): keyof typeof INSTALLED => {
  const generic = stack.find((one) => GENERIC.test(one)) ?? 'sans-serif';
  if (generic === 'serif' || generic === 'ui-serif') return 'serif';
  return generic === 'monospace' || generic === 'ui-monospace' ? 'monospace' : 'sans-serif';
};

/** As `createFontStack` names them. */
const steadOf = (family: string, { familyName }: Measured): string => `${family} Fallback: ${familyName}`;

/**
 * A stack of families with, after each that is measured, what stands in for it until its file has come: typefaces that
 * are installed, set as wide and as high as it is (`size-adjust` and its fellows, CSS Fonts 5), so that nothing moves.
 */
export function completeStack(stack: readonly string[], theme: Theme): string[] {
  const measured = new Set([...Object.keys(SHIPPED), ...theme.typefaces.map(({ family }) => family)]);
  const sort = sortOf(stack);
  return stack.flatMap((family) => [
    family,
    ...(measured.has(family) ? INSTALLED[sort].map((one) => steadOf(family, one)) : []),
  ]);
}

/** `@font-face` rules of the families that a theme uses: of those that were brought to it, and of what stands in for each. */
export function facesCss(theme: Theme): string {
  const used = new Set(theme.font.flatMap(({ value }) => value));
  const brought = theme.typefaces.flatMap(({ family, faces }) =>
    (used.has(family) ? faces : []).flatMap(({ weight, italic, file, ranges }) =>
      ranges.map(
        (range, piece) =>
          `@font-face{font-family:'${family}';font-style:${italic ? 'italic' : 'normal'};font-weight:${weight.join(' ')};font-display:swap;src:url(${typefaceAddress(file, piece)}) format('woff2');unicode-range:${range}}`,
      ),
    ),
  );
  const stead = new Map<string, string>();
  for (const { value } of theme.font)
    for (const family of value) {
      const own = SHIPPED[family] ?? theme.typefaces.find((one) => one.family === family)?.metrics;
      if (!own) continue;
      const { fontFaces } = createFontStack([{ ...own, familyName: family }, ...INSTALLED[sortOf(value)]]);
      for (const face of fontFaces.match(/@font-face \{[^}]*\}/g) ?? [])
        stead.set(face, face.replace(/\s*\n\s*/g, '').replace(/: (?=[\dl])/g, ':'));
    }
  return [...brought, ...stead.values()].join('\n');
}

/** Files that the Latin letters of a brought family stand in, upright and of the weight that text has. */
export function latinFilesOf(family: string, theme: Theme): string[] {
  const face = theme.typefaces
    .find((one) => one.family === family)
    ?.faces.find(({ italic, weight: [least, most] }) => !italic && least <= 400 && most >= 400);
  return face ? [typefaceAddress(face.file, 0)] : [];
}
