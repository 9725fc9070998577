import { looseEndsOf } from '../../../core/checks/loose-ends';
import { notFound } from '../../base/refusal';
import { readModel } from '../../services/model';
import { deleteRule, ruleUses, saveRule } from '../../services/rules';
import {
  assignRecords,
  createTemplate,
  deleteTemplate,
  editTemplate,
  orderTemplates,
  partsAmong,
  readTemplate,
  readTemplates,
  saveServing,
  saveTemplate,
} from '../../services/templates';
import { readTheme } from '../../services/theme';
import { readVersion, readVersions } from '../../services/versions';
import { ruleExample, servesExample, templateExample } from '../examples';
import { operation } from '../operation';
import { schemas } from '../schemas';
import { Pages, paged, sameId } from './common';

const writes = { tag: 'Templates', requiredRole: 'designer', touches: 'design' } as const;
const reads = { tag: 'Templates', requiredRole: 'reader' } as const;
const rules_ = { tag: 'Rules', requiredRole: 'designer', touches: 'design' } as const;
const ruleNamed = async (id: string | undefined) => {
  const rule = (await readModel()).rule(id ?? '');
  if (!rule) throw notFound('rule with this id');
  return rule;
};

export const templates = [
  operation('GET /templates', {
    id: 'listTemplates',
    ...reads,
    summary: 'Templates in their order',
    query: Pages,
    response: schemas.Template,
    lists: true,
    status: 200,
    run: async ({ query }) => paged(await readTemplates(), query),
  }),
  operation('POST /templates', {
    id: 'createTemplate',
    activity: 'Made the template “{name}”',
    ...writes,
    summary: 'A new template',
    body: schemas.NewTemplate,
    example: { name: 'Hut page', purpose: 'record', typeId: 'hut', ready: true },
    response: schemas.Template,
    status: 201,
    run: ({ body }) => createTemplate(body),
  }),
  operation('PUT /templates/order', {
    id: 'orderTemplates',
    activity: 'Put the templates in another order',
    ...writes,
    summary: 'The order of the templates',
    description: 'It decides where several are equally near to an address.',
    body: schemas.OrderChange,
    example: { ids: ['hut_page', 'front_page'] },
    refusal: 'This is no order of templates.',
    status: 204,
    run: ({ body }) => orderTemplates(body),
  }),
  operation('GET /templates/{templateId}', {
    id: 'readTemplate',
    ...reads,
    summary: 'One template',
    response: schemas.Template,
    status: 200,
    run: ({ params }) => readTemplate(params.templateId),
  }),
  operation('PUT /templates/{templateId}', {
    id: 'saveTemplate',
    activity: 'Changed the template “{name}”',
    ...writes,
    status: 200,
    summary: 'A template in another state; visitors see it with the next release',
    body: schemas.Template,
    example: templateExample,
    response: schemas.Template,
    refuses: [409],
    current: ({ templateId }) => readTemplate(templateId ?? ''),
    run: async ({ params, body }) => {
      sameId(body, params.templateId, 'template');
      return (await saveTemplate(params.templateId, body)).template;
    },
  }),
  operation('DELETE /templates/{templateId}', {
    id: 'deleteTemplate',
    activity: 'Deleted the template “{name}”',
    ...writes,
    status: 204,
    summary: 'Deletes a template',
    refuses: [409],
    current: ({ templateId }) => readTemplate(templateId ?? ''),
    run: ({ params }) => deleteTemplate(params.templateId),
  }),
  operation('POST /templates/{templateId}/edits', {
    id: 'editTemplate',
    isContinuous: true,
    activity: 'Worked on the template “{name}”',
    ...writes,
    status: 200,
    summary: 'Keeps what was done to a template since one of its versions',
    description:
      'Each operation says what its maker saw at the place that it changes. What others have kept meanwhile stays where it is another place; where it is the same one, nothing is written.',
    body: schemas.TemplateEditsRequest,
    example: { version: 1, operations: [], name: { from: 'Hut page', to: 'Hut' } },
    refusal: 'The template cannot be saved.',
    response: schemas.EditedTemplate,
    refuses: [409],
    run: ({ params, body }) => editTemplate(params.templateId, body),
  }),
  operation('PUT /templates/{templateId}/serves', {
    id: 'saveServing',
    activity: 'Changed what the template “{name}” serves',
    ...writes,
    summary: 'What a template serves',
    body: schemas.ServingChange,
    example: { serves: servesExample, version: 1 },
    refusal: 'The template cannot serve this.',
    response: schemas.Template,
    status: 200,
    refuses: [409],
    run: ({ params, body }) => saveServing(params.templateId, body),
  }),
  operation('POST /templates/{templateId}/assign', {
    id: 'assignRecords',
    activity: 'Had {n} records be answered by a template of their own',
    ...writes,
    status: 200,
    summary: 'Has chosen records be answered by a template',
    body: schemas.AssignedRequest,
    example: { typeId: 'hut', ids: [7] },
    refusal: 'These records cannot be assigned.',
    response: schemas.AssignedTemplate,
    run: ({ params, body }) => assignRecords(params.templateId, body),
  }),
  operation('GET /templates/{templateId}/versions', {
    id: 'listVersions',
    ...reads,
    summary: 'Earlier states of a template',
    response: schemas.Versions,
    status: 200,
    run: ({ params }) => readVersions(params.templateId),
  }),
  operation('GET /templates/{templateId}/versions/{version}', {
    id: 'readVersion',
    ...reads,
    summary: 'One earlier state',
    response: schemas.Version,
    status: 200,
    run: ({ params }) => readVersion(params.templateId, Number(params.version) || 0),
  }),
  operation('GET /loose-ends', {
    id: 'listLooseEnds',
    ...reads,
    summary: 'What a designer should look at, by template',
    response: schemas.LooseEnds,
    status: 200,
    run: async () => {
      const [model, all, { theme }] = await Promise.all([readModel(), readTemplates(), readTheme()]);
      const parts = partsAmong(all);
      return all.flatMap((template) =>
        looseEndsOf(template, model, parts, theme).map((end) => ({ templateId: template.id, ...end })),
      );
    },
  }),
  operation('GET /rules', {
    id: 'listRules',
    tag: 'Rules',
    requiredRole: 'reader',
    summary: 'Rules kept under a name, and their uses',
    response: schemas.RulesWithUses,
    status: 200,
    run: async () => ({ rules: (await readModel()).rules, uses: await ruleUses() }),
  }),
  operation('POST /rules', {
    id: 'createRule',
    activity: 'Kept the rule “{name}”',
    ...rules_,
    summary: 'Keeps a rule under a name',
    body: schemas.NewRule,
    example: { name: 'Has a note', typeId: 'hut', rule: ruleExample },
    response: schemas.Rule,
    status: 201,
    run: ({ body }) => saveRule({ ...body, id: undefined }),
  }),
  operation('PUT /rules/{ruleId}', {
    id: 'saveRule',
    activity: 'Changed the rule “{name}”',
    ...rules_,
    summary: 'A kept rule in another state',
    body: schemas.RuleChange,
    example: { name: 'Has a note', typeId: 'hut', rule: ruleExample, version: 1 },
    response: schemas.Rule,
    status: 200,
    refuses: [409],
    current: ({ ruleId }) => ruleNamed(ruleId),
    run: ({ params, body }) => saveRule({ ...body, id: params.ruleId }),
  }),
  operation('DELETE /rules/{ruleId}', {
    id: 'deleteRule',
    activity: 'Deleted the rule “{name}”',
    ...rules_,
    summary: 'Deletes a rule that nothing uses',
    status: 204,
    refuses: [409],
    current: ({ ruleId }) => ruleNamed(ruleId),
    run: ({ params }) => deleteRule(params.ruleId),
  }),
] as const;
