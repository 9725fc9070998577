import { parse, wcagContrast } from 'culori';

/** The contrast of two colours, 1 to 21 (WCAG 2.2, relative luminance and contrast ratio); 1 where one cannot be read. */
export function contrast(a: string, b: string): number {
  const [first, second] = [parse(a), parse(b)];
  return first && second ? wcagContrast(first, second) : 1;
}

/** Black or white, whichever reads better on a ground. */
export const inkOn = (ground: string): string =>
  contrast(ground, '#ffffff') >= contrast(ground, '#1a1a1a') ? '#ffffff' : '#1a1a1a';
