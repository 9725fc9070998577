import { z } from 'zod';
import { typeFromSchema } from '../../../core/exchange/json-schema';
import { findTypes, propertiesOf } from '../../../core/base/vocabulary';
import { exportType } from '../../exchange/exporting';
import { notFound, Refusal } from '../../base/refusal';
import { generateRecords, removeGenerated } from '../../services/generate';
import { readModel } from '../../services/model';
import { deleteContentType, orderContentTypes, saveContentType, saveContentTypes } from '../../services/types';
import { fillRates, usesOfField, usesOfType } from '../../services/type-uses';
import { previewKind } from '../../services/kind-changes';
import { previewOptions } from '../../services/option-changes';
import { pagesReading, type PagesReading } from '../../site/pages-reading';
import { download } from '../http';
import { typeExample } from '../examples';
import { operation } from '../operation';
import { schemas } from '../schemas';
import { Pages, paged, sameId } from './common';

const typeNamed = async (id: string | undefined) => {
  const type = (await readModel()).type(id ?? '');
  if (!type) throw notFound('content type with this id');
  return type;
};
const shared = { tag: 'Types', requiredRole: 'designer', touches: 'design' } as const;

export const types = [
  operation('GET /types', {
    id: 'listTypes',
    tag: 'Types',
    requiredRole: 'reader',
    summary: 'The content types with their fields',
    query: Pages,
    response: schemas.ContentType,
    lists: true,
    status: 200,
    run: async ({ query }) => paged((await readModel()).types, query),
  }),
  operation('POST /types', {
    id: 'createType',
    activity: 'Made the content type “{name}”',
    ...shared,
    summary: 'A new content type',
    body: schemas.ContentType,
    example: typeExample,
    response: schemas.ContentType,
    status: 201,
    refuses: [409],
    run: async ({ body }) => {
      const refuseSecond = (known: unknown) => {
        if (known) throw new Refusal(409, 'There is a content type with this id already.');
      };
      return saveContentType(body, refuseSecond);
    },
  }),
  operation('PUT /types', {
    id: 'saveTypes',
    activity: 'Changed content types',
    ...shared,
    summary: 'Several content types in another state at once',
    description:
      'New ones too, such as both sides of a relation. What fields were taken away can be brought back by the removal. Where an option goes that records have, `becomes` says what becomes of it.',
    body: schemas.TypesChange,
    example: { types: [typeExample] },
    response: schemas.SavedTypes,
    status: 200,
    refuses: [409],
    run: ({ body }) => saveContentTypes(body.types, undefined, body.becomes),
  }),
  operation('PUT /types/order', {
    id: 'orderTypes',
    activity: 'Put the content types in another order',
    ...shared,
    summary: 'The order of the content types',
    body: schemas.OrderChange,
    example: { ids: ['hut', 'trail'] },
    status: 204,
    run: ({ body }) => orderContentTypes(body.ids),
  }),
  operation('POST /types/schema', {
    id: 'readSchema',
    tag: 'Types',
    requiredRole: 'designer',
    summary: 'A JSON Schema as a content type',
    description: 'Nothing is kept.',
    body: schemas.Anything,
    example: { title: 'Hut', type: 'object', properties: { beds: { type: 'integer' } } },
    response: schemas.TypeFromSchema,
    status: 200,
    run: async ({ body }) => {
      const read = typeFromSchema(body);
      if (!read.ok) throw new Refusal(422, 'The schema cannot be read as a content type.', read.problems);
      return Promise.resolve(read.value);
    },
  }),
  operation('GET /types/{typeId}', {
    id: 'readType',
    tag: 'Types',
    requiredRole: 'reader',
    summary: 'One content type',
    response: schemas.ContentType,
    status: 200,
    run: ({ params }) => typeNamed(params.typeId),
  }),
  operation('PUT /types/{typeId}', {
    id: 'saveType',
    activity: 'Changed the content type “{name}”',
    ...shared,
    summary: 'A content type in another state',
    description:
      'Fields are known by id. Those left out are taken away; values of fields of another kind are converted.',
    body: schemas.ContentType,
    example: typeExample,
    response: schemas.ContentType,
    status: 200,
    refuses: [409],
    current: ({ typeId }) => typeNamed(typeId),
    run: ({ params, body, guard }) => {
      sameId(body, params.typeId, 'content type');
      return saveContentType(body, guard);
    },
  }),
  operation('DELETE /types/{typeId}', {
    id: 'deleteType',
    activity: 'Deleted the content type “{name}”',
    ...shared,
    summary: 'Deletes a content type with its records',
    response: schemas.Removal,
    status: 200,
    current: ({ typeId }) => typeNamed(typeId),
    run: ({ params, guard }) => deleteContentType(params.typeId, guard),
  }),
  operation('GET /types/{typeId}/uses', {
    id: 'readTypeUses',
    tag: 'Types',
    requiredRole: 'reader',
    summary: 'What uses a content type, or one of its fields',
    response: schemas.Uses,
    status: 200,
    query: z.object({ field: z.string().max(40).optional() }),
    run: ({ params, query: { field } }) => (field ? usesOfField(params.typeId, field) : usesOfType(params.typeId)),
  }),
  operation('GET /types/{typeId}/fill', {
    id: 'readFill',
    tag: 'Types',
    requiredRole: 'reader',
    summary: 'How many records have a value, by field',
    response: schemas.Fill,
    status: 200,
    run: ({ params }) => fillRates(params.typeId),
  }),
  operation('POST /types/{typeId}/preview', {
    id: 'previewKind',
    tag: 'Types',
    requiredRole: 'designer',
    summary: 'What would become of a field’s values in another kind',
    body: schemas.Field,
    example: { id: 'hut_beds', key: 'beds', label: 'Beds', kind: 'text' },
    response: schemas.KindPreview,
    status: 200,
    run: async ({ params, body }) => ({
      ...(await previewKind(params.typeId, body)),
      released: await pagesReading((body as { id?: string } | undefined)?.id ?? ''),
    }),
  }),
  operation('POST /types/{typeId}/options', {
    id: 'previewOptions',
    tag: 'Types',
    requiredRole: 'designer',
    summary: 'The options that a content type in another state would no longer have, with what has and names them',
    body: schemas.ContentType,
    example: typeExample,
    response: schemas.OptionsGoing,
    status: 200,
    run: async ({ params, body }) => {
      const going = await previewOptions(params.typeId, body);
      const seen = new Map<string, PagesReading[]>();
      for (const { field } of going) if (!seen.has(field)) seen.set(field, await pagesReading(field));
      return going.map((one) => ({ ...one, released: seen.get(one.field) ?? [] }));
    },
  }),
  operation('POST /types/{typeId}/generate', {
    id: 'generateRecords',
    activity: 'Filled a type with made-up records',
    tag: 'Records',
    requiredRole: 'editor',
    touches: 'content',
    summary: 'Fills a type with made-up records, marked as such',
    body: schemas.MadeUpRequest,
    example: { count: 20, status: 'draft', seed: 7 },
    refusal: 'This cannot be made.',
    response: schemas.Made,
    status: 201,
    run: ({ params, body }) => generateRecords(params.typeId, body),
  }),
  operation('DELETE /types/{typeId}/generate', {
    id: 'removeGenerated',
    activity: 'Deleted made-up records',
    tag: 'Records',
    requiredRole: 'editor',
    touches: 'content',
    summary: 'Deletes the made-up records of a type',
    response: schemas.RemovedRecords,
    status: 200,
    run: ({ params }) => removeGenerated(params.typeId),
  }),
  operation('GET /types/{typeId}/export', {
    id: 'exportRecords',
    activity: 'Exported the records of a type',
    tag: 'Records',
    requiredRole: 'editor',
    summary: 'The records of a type as a file',
    response: 'file',
    status: 200,
    query: z.object({ format: z.string().max(20).default('csv') }),
    run: async ({ params, query }) => {
      const { name, mime, content } = await exportType(params.typeId, query.format);
      return download(name, mime, content);
    },
  }),
  operation('GET /vocabulary', {
    id: 'readVocabulary',
    tag: 'Types',
    requiredRole: 'reader',
    summary: 'Types of schema.org by words, or the properties of one',
    response: schemas.Described,
    status: 200,
    query: z.object({ search: z.string().max(200).default(''), of: z.string().max(80).default('') }),
    run: ({ query: { of, search } }) => Promise.resolve(of ? propertiesOf(of) : findTypes(search)),
  }),
] as const;
