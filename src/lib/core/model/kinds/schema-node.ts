import type { Field } from '../../schema/field';

/** One node of a JSON Schema (2020-12), as far as kinds of field understand it. */
export interface SchemaNode {
  title?: string;
  description?: string;
  type?: string | string[];
  format?: string;
  pattern?: string;
  enum?: unknown[];
  oneOf?: { const?: unknown; title?: string }[];
  properties?: Record<string, SchemaNode>;
  required?: string[];
  items?: SchemaNode;
  minimum?: number;
  maximum?: number;
  multipleOf?: number;
  minLength?: number;
  maxLength?: number;
  minItems?: number;
  maxItems?: number;
  'x-plum-thread'?: Record<string, unknown>;
}

/** What a kind that holds others may ask of the nodes below. */
export interface SchemaInside {
  /** The properties of an object, as fields. */
  fields(node: SchemaNode): Field[];
  /** What is no object, as one field. */
  value(node: SchemaNode): Field | undefined;
}

/** The type of a node beside null. */
export const typeOfNode = ({ type }: SchemaNode): string | undefined =>
  (Array.isArray(type) ? type : [type]).find((one) => one !== 'null');

export const isText = (node: SchemaNode, ...formats: string[]): boolean =>
  typeOfNode(node) === 'string' && (!formats.length || formats.includes(node.format ?? ''));

/** The options that a node leaves: constants with their titles, or an enumeration of text. */
export function optionsIn(node: SchemaNode): { key: string; label: string }[] | undefined {
  const type = typeOfNode(node);
  if (type && type !== 'string') return undefined;
  if (node.oneOf?.every((one) => typeof one.const === 'string'))
    return node.oneOf.map((one) => ({ key: one.const as string, label: one.title ?? (one.const as string) }));
  return node.enum?.length && node.enum.every((one) => typeof one === 'string' && one)
    ? (node.enum as string[]).map((key) => ({ key: key.slice(0, 60), label: key.slice(0, 120) }))
    : undefined;
}
