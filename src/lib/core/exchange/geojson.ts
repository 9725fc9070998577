import { z } from 'zod';
import type { ContentRecord } from '../schema/record';
import type { ContentType } from '../schema/model';
import type { ModelIndex } from '../model/model-index';
import { fail, ok, problem, type Result } from '../base/result';
import type { Namer } from './cells';
import { recordToPlain } from './columns';

interface Place {
  lat: number;
  lon: number;
  label?: string;
}

/** A record with a place as a Feature (RFC 7946, 3.2): its point is longitude before latitude (3.1.1). */
export function toFeature(
  record: ContentRecord,
  fieldId: string,
  type: ContentType,
  model: ModelIndex,
  namer: Namer,
): Record<string, unknown> {
  const place = record.values[fieldId] as Place | undefined;
  const key = type.fields.find((field) => field.id === fieldId)?.key;
  const { [key ?? '']: _, ...properties } = recordToPlain(record, type, model, namer);
  return {
    type: 'Feature',
    id: record.slug,
    geometry: place ? { type: 'Point', coordinates: [place.lon, place.lat] } : null,
    properties: { ...properties, ...(place?.label ? { place_label: place.label } : {}) },
  };
}

const Position = z.array(z.number()).min(2).max(4);
const Feature = z.looseObject({
  type: z.literal('Feature'),
  id: z.union([z.string(), z.number()]).optional(),
  geometry: z.looseObject({ type: z.string(), coordinates: z.unknown() }).nullable(),
  properties: z.record(z.string(), z.unknown()).nullable(),
});

/** The features of a FeatureCollection as rows: their properties, and their point as `place`. Other geometries are told. */
export function fromFeatureCollection(input: unknown): Result<Record<string, unknown>[]> {
  const collection = z
    .looseObject({ type: z.literal('FeatureCollection'), features: z.array(z.unknown()) })
    .safeParse(input);
  if (!collection.success)
    return fail(
      problem('', 'This is no GeoJSON FeatureCollection (RFC 7946, 3.3).', 'Give one with "type" and "features".'),
    );
  const rows: Record<string, unknown>[] = [];
  for (const [i, one] of collection.data.features.entries()) {
    const feature = Feature.safeParse(one);
    if (!feature.success)
      return fail(
        problem(`features.${i}`, 'This is no Feature (RFC 7946, 3.2).', 'Give it "type", "geometry" and "properties".'),
      );
    const { geometry, properties } = feature.data;
    const row: Record<string, unknown> = { ...properties };
    if (geometry) {
      const point = Position.safeParse(geometry.coordinates);
      if (geometry.type !== 'Point' || !point.success)
        return fail(
          problem(
            `features.${i}.geometry`,
            `Only points can be kept; this is a ${geometry.type}.`,
            'Leave it out, or give its middle.',
          ),
        );
      const [lon, lat] = point.data as [number, number];
      const label = typeof row.place_label === 'string' ? row.place_label : undefined;
      row.place = { lat, lon, ...(label ? { label } : {}) };
    }
    delete row.place_label;
    rows.push(row);
  }
  return ok(rows);
}
