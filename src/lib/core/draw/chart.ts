import { numberWriter } from '../base/write';
import { escapeHtml } from '../base/text';
import { niceBelow } from './map';

export interface ChartPoint {
  label: string;
  value: number;
}

export interface ChartOptions {
  as: 'bars' | 'line';
  locale: string;
  unit?: string;
  /** What the chart shows, for those who listen; it has the figures too. */
  title: string;
}

/** Round marks of an axis from at most the least to at least the most of the values, 0 among them. */
export function axis(values: readonly number[]): { from: number; to: number; marks: number[] } {
  const low = Math.min(0, ...values);
  const high = Math.max(0, ...values);
  // What is too small to be divided is drawn as 0.
  if (high - low < 1e-200) return { from: 0, to: 1, marks: [0, 1] };
  const step = niceBelow((high - low) / 3);
  const from = Math.floor(low / step + 1e-9) * step;
  const to = Math.ceil(high / step - 1e-9) * step;
  const marks: number[] = [];
  for (let n = 0; from + n * step <= to + step / 2; n++) marks.push(Number((from + n * step).toPrecision(12)));
  return { from, to, marks };
}

const WIDTH = 640;
const HEIGHT = 240;
const LEFT = 52;
const BOTTOM = 34;
const TOP = 14;
const r = (n: number) => Number(n.toFixed(1));

/** A small chart as SVG, styled by classes; '' without values. */
export function drawChart(points: readonly ChartPoint[], { as, locale, unit, title }: ChartOptions): string {
  if (!points.length) return '';
  const write = numberWriter(locale, { maximumFractionDigits: 2 }, { unit });
  const { from, to, marks } = axis(points.map((point) => point.value));
  const plotHeight = HEIGHT - TOP - BOTTOM;
  const y = (value: number) => TOP + plotHeight * Math.min(1, Math.max(0, 1 - (value - from) / (to - from)));
  const each = (WIDTH - LEFT) / points.length;
  const x = (i: number) => LEFT + each * (i + 0.5);
  const lines = marks
    .map(
      (mark) =>
        `<path d="M${LEFT} ${r(y(mark))}H${WIDTH}"/><text x="${LEFT - 8}" y="${r(y(mark)) + 4}" text-anchor="end">${numberWriter(locale, { maximumFractionDigits: 2 })(mark)}</text>`,
    )
    .join('');
  const drawn =
    as === 'bars'
      ? points
          .map(({ value }, i) => {
            const [a, b] = [y(Math.max(0, value)), y(Math.min(0, value))];
            const wide = Math.min(64, each * 0.66);
            return `<rect x="${r(x(i) - wide / 2)}" y="${r(a)}" width="${r(wide)}" height="${r(Math.max(1, b - a))}"/>`;
          })
          .join('')
      : `<path d="M${points.map(({ value }, i) => `${r(x(i))} ${r(y(value))}`).join('L')}"/>${points.map(({ value }, i) => `<circle cx="${r(x(i))}" cy="${r(y(value))}" r="4"/>`).join('')}`;
  // Words that would run into each other are left out, from the second on.
  const longest = Math.max(...points.map((point) => point.label.length));
  const every = Math.max(1, Math.ceil((Math.min(longest, 14) * 7.5) / each));
  const cut = (label: string) => (label.length > 14 ? `${label.slice(0, 13)}…` : label);
  const names = points
    .map(({ label }, i) =>
      i % every ? '' : `<text x="${r(x(i))}" y="${HEIGHT - 10}" text-anchor="middle">${escapeHtml(cut(label))}</text>`,
    )
    .join('');
  const words = `${title}: ${points.map(({ label, value }) => `${label} ${write(value)}`).join(', ')}`;
  return (
    `<svg class="chart-drawing chart-${as}" viewBox="0 0 ${WIDTH} ${HEIGHT}" role="img" aria-label="${escapeHtml(words)}">` +
    `<g class="net">${lines}</g><g class="values">${drawn}</g><g class="names">${names}</g></svg>`
  );
}
