import { typeOfNode } from './schema-node';
import sign from 'lucide/dist/esm/icons/map-pin.mjs';
import { z } from 'zod';
import { place as family } from '../families/place';
import { defineKind } from './kind';

/** "57.12, -4.71", with words for it in brackets or without. */
const CELL = /^\s*([+-]?\d+(?:\.\d+)?)\s*[,;]\s*([+-]?\d+(?:\.\d+)?)\s*(?:\((.*)\))?\s*$/s;

const degrees = (value: number, [plus, minus]: [string, string]) =>
  `${Math.abs(value)
    .toFixed(4)
    .replace(/\.?0+$/, '')}° ${value < 0 ? minus : plus}`;

/** A point in degrees of WGS 84 (RFC 7946, section 4), north and east positive. */
export const place = defineKind({
  name: 'place',
  label: 'Place',
  sign,
  family,
  forFields: true,
  control: 'place',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z.strictObject(
      {
        lat: z
          .number({ error: 'A latitude is a number of degrees.' })
          .min(-90, { error: 'A latitude lies between -90 and 90 degrees.' })
          .max(90, { error: 'A latitude lies between -90 and 90 degrees.' }),
        lon: z
          .number({ error: 'A longitude is a number of degrees.' })
          .min(-180, { error: 'A longitude lies between -180 and 180 degrees.' })
          .max(180, { error: 'A longitude lies between -180 and 180 degrees.' }),
        label: z.string().max(200).optional(),
      },
      { error: 'This is a place: latitude and longitude in degrees, such as 57.12, -4.71.' },
    ),
  isEmpty: () => false,
  text: ({ lat, lon, label }) => label || `${degrees(lat, ['N', 'S'])}, ${degrees(lon, ['E', 'W'])}`,
  words: ({ label }) => label ?? '',
  schema: () => ({
    type: 'object',
    properties: {
      lat: { type: 'number', minimum: -90, maximum: 90 },
      lon: { type: 'number', minimum: -180, maximum: 180 },
      label: { type: 'string', maxLength: 200 },
    },
    required: ['lat', 'lon'],
    additionalProperties: false,
  }),
  fromSchema: (node) => {
    const names = Object.keys(node.properties ?? {});
    const point =
      typeOfNode(node) === 'object' && names.includes('lat') && names.some((name) => /^(lon|lng)$/.test(name));
    return point ? {} : undefined;
  },
  fromCell: (cell) => {
    const parts = CELL.exec(cell);
    return parts
      ? { lat: Number(parts[1]), lon: Number(parts[2]), ...(parts[3]?.trim() ? { label: parts[3].trim() } : {}) }
      : cell;
  },
  toCell: ({ lat, lon, label }) => `${lat}, ${lon}${label ? ` (${label})` : ''}`,
  invent: (make) => ({
    lat: Number((56.9 + make.random() * 0.4).toFixed(4)),
    lon: Number((-5.1 + make.random() * 0.6).toFixed(4)),
    label: make.words(2),
  }),
});
