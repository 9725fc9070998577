import { numberWriter } from '../base/write';
import { escapeHtml } from '../base/text';

export interface MapPoint {
  /** Degrees of WGS 84. */
  lat: number;
  lon: number;
  label?: string;
}

/** Metres of one degree along a meridian of the mean sphere (radius 6,371,008.8 m, IUGG mean radius). */
const DEGREE = (Math.PI / 180) * 6_371_008.8;

const NICE = [1, 2, 5];
/** The largest of 1, 2, 5, 10, 20 … that is not above `most`. */
export function niceBelow(most: number): number {
  const base = 10 ** Math.floor(Math.log10(most));
  return (NICE.findLast((n) => n * base <= most) ?? 1) * base;
}

export interface MapPlan {
  /** Pixels of the drawing. */
  width: number;
  height: number;
  /** Metres that one pixel stands for, at the middle. */
  scale: number;
  points: { x: number; y: number; label?: string }[];
  /** Lines of latitude and longitude with their place in pixels and their degrees. */
  parallels: { y: number; degrees: number }[];
  meridians: { x: number; degrees: number }[];
  /** A round length for the scale: metres, and pixels. */
  bar: { metres: number; pixels: number };
}

/** The longitude from which all others lie to the east within the smallest angle: the end of the widest gap. */
function westernmost(longitudes: number[]): number {
  const sorted = [...longitudes].sort((a, b) => a - b);
  let [best, widest] = [sorted[0] as number, (sorted[0] as number) + 360 - (sorted.at(-1) as number)];
  for (let i = 1; i < sorted.length; i++) {
    const gap = (sorted[i] as number) - (sorted[i - 1] as number);
    if (gap > widest) [best, widest] = [sorted[i] as number, gap];
  }
  return best;
}

/**
 * Lays points out on a plane around their middle: an equidistant cylindrical projection with its standard parallel at the
 * middle, which is true to scale there. `span` is the least width shown, in kilometres.
 */
export function planMap(points: readonly MapPoint[], width: number, height: number, span: number): MapPlan | undefined {
  if (!points.length) return undefined;
  const middle = (values: number[]) => (Math.min(...values) + Math.max(...values)) / 2;
  const lat0 = middle(points.map((point) => point.lat));
  const start = westernmost(points.map((point) => point.lon));
  // Degrees east of the westernmost point, so that places either side of the date line are near each other.
  const east = points.map(({ lon }) => (lon - start + 360) % 360);
  const lon0 = start + middle(east);
  const shrink = Math.max(0.01, Math.cos((lat0 * Math.PI) / 180));
  const metres = points.map(({ lat }, i) => ({
    e: ((east[i] as number) - (lon0 - start)) * DEGREE * shrink,
    n: (lat - lat0) * DEGREE,
  }));
  const reach = (values: number[]) => Math.max(...values.map(Math.abs), 0) * 2;
  // Room at the edges, so that no sign or word is cut off.
  const scale = Math.max(
    (span * 1000) / width,
    reach(metres.map((m) => m.e)) / (width * 0.7),
    reach(metres.map((m) => m.n)) / (height * 0.7),
  );
  const x = (e: number) => width / 2 + e / scale;
  const y = (n: number) => height / 2 - n / scale;

  const step = niceBelow((height * scale) / DEGREE / 2);
  const lines = (from: number, to: number, by: number): number[] => {
    const out: number[] = [];
    for (let n = Math.ceil(from / by); n * by <= to && out.length < 40; n++) out.push(Number((n * by).toFixed(8)));
    return out;
  };
  const halfLat = (height * scale) / DEGREE / 2;
  const halfLon = (width * scale) / DEGREE / shrink / 2;
  const lonStep = niceBelow((width * scale) / DEGREE / shrink / 3);
  const bar = niceBelow(width * scale * 0.3);
  return {
    width,
    height,
    scale,
    points: points.map(({ label }, i) => ({ x: x(metres[i]!.e), y: y(metres[i]!.n), label })),
    parallels: lines(lat0 - halfLat, lat0 + halfLat, step).map((degrees) => ({
      degrees,
      y: y((degrees - lat0) * DEGREE),
    })),
    meridians: lines(lon0 - halfLon, lon0 + halfLon, lonStep).map((degrees) => ({
      degrees,
      x: x((degrees - lon0) * DEGREE * shrink),
    })),
    bar: { metres: bar, pixels: bar / scale },
  };
}

const r = (n: number) => Number(n.toFixed(1));

/** A plan as SVG: the net of degrees, the scale, and a sign with its name for each point. Styled by classes. */
export function drawMap(plan: MapPlan, locale: string, title: string): string {
  const degrees = numberWriter(locale, { maximumFractionDigits: 4 });
  const { width, height, bar } = plan;
  const side = (value: number, plus: string, minus: string) =>
    `${degrees(Math.abs(value))}° ${value < 0 ? minus : plus}`;
  // Parallels are named at the left edge and meridians at the bottom; the corner where both would stand is left free.
  const named = (words: string, x: number, y: number, free: boolean) =>
    free ? `<text x="${r(x)}" y="${r(y)}">${words}</text>` : '';
  const net = [
    ...plan.parallels.map(
      ({ y, degrees: d }) =>
        `<path d="M0 ${r(y)}H${width}"/>${named(side(d, 'N', 'S'), 6, y - 4, y > 26 && y < height - 40)}`,
    ),
    ...plan.meridians.map(
      ({ x, degrees: d }) =>
        `<path d="M${r(x)} 0V${height}"/>${named(side(d > 180 ? Number((d - 360).toFixed(8)) : d, 'E', 'W'), x + 4, height - 6, x < width - 70)}`,
    ),
  ].join('');
  const signs = plan.points
    .map(({ x, y, label }) => {
      const left = x > width * 0.62;
      const words = label
        ? `<text x="${r(left ? x - 12 : x + 12)}" y="${r(y) - 8}"${left ? ' text-anchor="end"' : ''}>${escapeHtml(label)}</text>`
        : '';
      return `<path d="M${r(x)} ${r(y)}l-8 -15a9 9 0 1 1 16 0z"/><circle cx="${r(x)}" cy="${r(y) - 19}" r="3"/>${words}`;
    })
    .join('');
  const length = bar.metres >= 1000 ? `${degrees(bar.metres / 1000)} km` : `${degrees(bar.metres)} m`;
  const [left, top] = [width - bar.pixels - 14, 22];
  return (
    `<svg class="map-drawing" viewBox="0 0 ${width} ${height}" role="img" aria-label="${escapeHtml(title)}">` +
    `<g class="net">${net}</g>` +
    `<g class="bar"><path d="M${r(left)} ${top - 6}v6h${r(bar.pixels)}v-6"/><text x="${r(left + bar.pixels / 2)}" y="${top + 14}" text-anchor="middle">${length}</text></g>` +
    `<g class="signs">${signs}</g></svg>`
  );
}
