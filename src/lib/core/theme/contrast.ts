import { converter, formatHex, parse, wcagContrast } from '../base/colour';

/** The least contrast of text to its ground (WCAG 2.2, 1.4.3), and of large text. */
export const LEAST = 4.5;
export const LARGE_LEAST = 3;

/** The contrast of two colours, 1 to 21 (WCAG 2.2, relative luminance and contrast ratio); 1 where one cannot be read. */
export function contrast(a: string, b: string): number {
  const [first, second] = [parse(a), parse(b)];
  return first && second ? wcagContrast(first, second) : 1;
}

/** White or nearly black, whichever reads better on a ground; black itself on the few where neither does. */
export function inkOn(ground: string): string {
  const [light, dark] = [contrast(ground, '#ffffff'), contrast(ground, '#1a1a1a')];
  if (light >= dark) return light >= LEAST ? '#ffffff' : '#000000';
  return dark >= LEAST ? '#1a1a1a' : '#000000';
}

const rgb = converter('rgb');

type Rgb = { r: number; g: number; b: number; alpha: number };
const WHITE: Rgb = { r: 1, g: 1, b: 1, alpha: 1 };

function read(css: string): Rgb | undefined {
  const colour = rgb(parse(css));
  return colour && { r: colour.r, g: colour.g, b: colour.b, alpha: colour.alpha ?? 1 };
}

/** One colour over an opaque other (Compositing and Blending Level 1, simple alpha compositing). */
const over = (top: Rgb, below: Rgb): Rgb => {
  const mix = (a: number, b: number) => a * top.alpha + b * (1 - top.alpha);
  return { r: mix(top.r, below.r), g: mix(top.g, below.g), b: mix(top.b, below.b), alpha: 1 };
};

/**
 * The contrast of text to what it stands on: CSS colours of grounds from the nearest outwards, each of which may let those
 * below it through; under them all is white. `ground` is what is seen, as `#rrggbb`.
 */
export function contrastOver(text: string, grounds: readonly string[]): { ratio: number; ground: string } {
  const seen = grounds.flatMap((one) => read(one) ?? []).reduceRight((below, top) => over(top, below), WHITE);
  const ink = read(text);
  const asColour = (colour: Rgb) => ({ mode: 'rgb' as const, ...colour });
  return {
    ratio: ink ? wcagContrast(asColour(over(ink, seen)), asColour(seen)) : 21,
    ground: formatHex(asColour(seen)),
  };
}
