import { contrastOver, LEAST } from './contrast';

/** The steps in which a tint grows, in hundredths; the site's style sheet has a class for each, up to `MOST`. */
const STEP = 5;
const MOST = 80;

/** Text over pictures, and what is laid between the two. */
const TINTS = { dark: { text: '#ffffff', over: '0 0 0' }, light: { text: '#1a1a1a', over: '255 255 255' } };

/**
 * How strong a tint over a picture is, in hundredths, so that text over any place of it has a contrast of at least 4.5
 * (WCAG 2.2, 1.4.3): `bound` is the colour that is hardest to read on, for white text the lightest that it has.
 */
export function tintOver(bound: string, tint: keyof typeof TINTS): number {
  const key = `${tint} ${bound}`;
  let strength = known.get(key);
  if (strength === undefined) {
    if (known.size >= MOST_KNOWN) known.clear();
    known.set(key, (strength = strengthOf(bound, tint)));
  }
  return strength;
}

/** Asked for with every drawing of a picture behind words. */
const known = new Map<string, number>();
const MOST_KNOWN = 2000;

function strengthOf(bound: string, tint: keyof typeof TINTS): number {
  const { text, over } = TINTS[tint];
  for (let strength = 0; strength < MOST; strength += STEP) {
    if (contrastOver(text, [`rgb(${over} / ${strength}%)`, bound]).ratio >= LEAST) return strength;
  }
  return MOST;
}
