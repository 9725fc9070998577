import { balanced, DURATION_UNITS, parseDuration } from './duration';
import { writeList, writeNumber } from './write';

export type DurationStyle = 'long' | 'short' | 'narrow' | 'digital';

interface DurationWriter {
  format(parts: Record<string, number>): string;
}
type WriterClass = new (locale: string, options: { style: DurationStyle }) => DurationWriter;

const kept = new Map<string, DurationWriter>();

/** What the platform has of ECMA-402's `Intl.DurationFormat`; Node.js before 23 has none. */
const platform = (): WriterClass | undefined => (Intl as unknown as { DurationFormat?: WriterClass }).DurationFormat;

/**
 * A duration as people write it in a locale: by `Intl.DurationFormat` (ECMA-402) where the platform has it, else by the
 * same patterns of the CLDR: each part as a unit, joined as a list of units. '' for what is no duration.
 */
export function writeDuration(text: string, locale: string, style: DurationStyle = 'long'): string {
  const parsed = parseDuration(text);
  if (!parsed) return '';
  const parts = balanced(parsed);
  const Writer = platform();
  if (Writer) {
    const key = `${locale}|${style}`;
    let writer = kept.get(key);
    if (!writer) kept.set(key, (writer = new Writer(locale, { style })));
    const [whole, left] = [Math.floor(parts[6]), Math.round((parts[6] % 1) * 1e6)];
    const given = Object.fromEntries(
      DURATION_UNITS.map((unit, i) => [unit, unit === 'seconds' ? whole : (parts[i] as number)]),
    );
    return writer.format(left ? { ...given, milliseconds: Math.floor(left / 1000) } : given) || zero(locale, style);
  }
  return byUnits(parts, locale, style);
}

const zero = (locale: string, style: DurationStyle): string =>
  writeNumber(0, locale, { style: 'unit', unit: 'minute', unitDisplay: style === 'digital' ? 'short' : style });

/** By the unit and list patterns of the CLDR, which is what `Intl.DurationFormat` is made of. */
export function byUnits(parts: readonly number[], locale: string, style: DurationStyle): string {
  const display = style === 'digital' ? 'short' : style;
  const clock = style === 'digital' && parts.slice(4).some(Boolean);
  const units = DURATION_UNITS.flatMap((unit, i) => {
    const amount = parts[i] ?? 0;
    if (!amount || (clock && i >= 4)) return [];
    return [writeNumber(amount, locale, { style: 'unit', unit: unit.slice(0, -1), unitDisplay: display })];
  });
  if (clock) {
    const [hours = 0, minutes = 0, seconds = 0] = parts.slice(4);
    units.push([hours, String(minutes).padStart(2, '0'), String(seconds).padStart(2, '0')].join(':'));
  }
  if (!units.length) return zero(locale, style);
  return writeList(units, locale, 'unit', display);
}
