import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { axis, drawChart } from '../../src/lib/core/draw/chart';
import { drawMap, planMap } from '../../src/lib/core/draw/map';

describe('charts', () => {
  const options = { as: 'bars', locale: 'en', title: 'Ascent' } as const;

  it('have round marks that reach from at most the least to at least the most, with 0', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 1 }), (values) => {
        const { from, to, marks } = axis(values);
        const slack = 1e-6 * Math.max(1, Math.abs(from), Math.abs(to));
        expect(from).toBeLessThanOrEqual(Math.min(0, ...values) + slack);
        expect(to).toBeGreaterThanOrEqual(Math.max(0, ...values) - slack);
        expect(marks.length).toBeGreaterThanOrEqual(2);
        expect(marks.length).toBeLessThanOrEqual(14);
      }),
    );
  });

  it('draw bars as high as their values, and say the figures', () => {
    const svg = drawChart(
      [
        { label: 'One', value: 100 },
        { label: 'Two & three', value: 50 },
      ],
      { ...options, unit: 'm' },
    );
    const heights = [...svg.matchAll(/<rect[^>]* height="([\d.]+)"/g)].map(([, h]) => Number(h));
    expect(heights).toHaveLength(2);
    expect(heights[0]! / heights[1]!).toBeCloseTo(2, 1);
    expect(svg).toContain('Two &amp; three');
    expect(svg).toMatch(/aria-label="Ascent[^"]*100/);
    expect(drawChart([], options)).toBe('');
  });

  it('never draw outside of their frame', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ label: fc.string(), value: fc.double({ min: -1e9, max: 1e9, noNaN: true }) }), {
          maxLength: 20,
        }),
        fc.constantFrom('bars', 'line'),
        (points, as) => {
          const svg = drawChart(points, { ...options, as });
          expect(svg).not.toMatch(/NaN|Infinity|undefined/);
          for (const [, x] of svg.matchAll(/ [xy]="(-?[\d.]+)"/g)) expect(Number(x)).toBeGreaterThanOrEqual(-1);
        },
      ),
    );
  });
});

describe('maps', () => {
  const points = [
    { lat: 57.05, lon: -4.9, label: 'A <hut>' },
    { lat: 57.1, lon: -4.8 },
  ];

  it('have one scale in both directions', () => {
    const plan = planMap(points, 640, 427, 5)!;
    const [a, b] = plan.points as [{ x: number; y: number }, { x: number; y: number }];
    // Metres by the haversine formula on the mean radius of WGS 84 (6,371,008.8 m), written out here.
    const rad = (degrees: number) => (degrees * Math.PI) / 180;
    const half =
      Math.sin(rad(0.05) / 2) ** 2 + Math.cos(rad(57.05)) * Math.cos(rad(57.1)) * Math.sin(rad(0.1) / 2) ** 2;
    const metres = 2 * 6371008.8 * Math.asin(Math.sqrt(half));
    const drawn = Math.hypot(a.x - b.x, a.y - b.y) * plan.scale;
    expect(Math.abs(drawn / metres - 1)).toBeLessThan(0.01);
    expect(b.x).toBeGreaterThan(a.x);
    expect(b.y).toBeLessThan(a.y);
    expect(plan.bar.metres / plan.bar.pixels).toBeCloseTo(plan.scale, 6);
  });

  it('show every point, also across the date line and at the poles', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            lat: fc.double({ min: -90, max: 90, noNaN: true }),
            lon: fc.double({ min: -180, max: 180, noNaN: true }),
          }),
          { minLength: 1, maxLength: 8 },
        ),
        (many) => {
          const plan = planMap(many, 640, 427, 20)!;
          for (const { x, y } of plan.points) {
            expect(x).toBeGreaterThanOrEqual(0);
            expect(x).toBeLessThanOrEqual(640);
            expect(y).toBeGreaterThanOrEqual(0);
            expect(y).toBeLessThanOrEqual(427);
          }
          expect(drawMap(plan, 'en', 'x')).not.toMatch(/NaN|Infinity|undefined/);
          expect(plan.parallels.length + plan.meridians.length).toBeLessThan(60);
        },
      ),
    );
    // Two places either side of the date line are near each other.
    const plan = planMap(
      [
        { lat: 0, lon: 179.9 },
        { lat: 0, lon: -179.9 },
      ],
      640,
      427,
      5,
    )!;
    expect(plan.scale * 640).toBeLessThan(100_000);
    expect(planMap([], 640, 427, 20)).toBeUndefined();
  });

  it('escape the names of places', () => {
    expect(drawMap(planMap(points, 640, 427, 20)!, 'en', 'A "b"')).toContain('A &lt;hut&gt;');
  });
});
