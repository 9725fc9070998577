import type { Purpose } from '../../../core/schema/template';
import type { Target } from '../../../core/schema/target';
import type { Tree } from '../../../core/schema/element';
import { looseEndsOf } from '../../../core/checks/loose-ends';
import { notFound } from '../../refusal';
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
import { at, operation, type Operation } from '../operation';
import { Pages, paged, sameId } from './common';

interface NewTemplate {
  name: string;
  purpose: Purpose;
  typeId?: string;
  serves?: Target[];
  except?: Target[];
  ready: boolean;
  tree?: Tree;
}
const writes = { tag: 'Templates', who: 'designer', touches: 'design' } as const;
const reads = { tag: 'Templates', who: 'reader' } as const;
const rules_ = { tag: 'Rules', who: 'designer', touches: 'design' } as const;
const ruleNamed = async (id: string | undefined) => {
  const rule = (await readModel()).rule(id ?? '');
  if (!rule) throw notFound('rule with this id');
  return rule;
};

export const templates: Operation[] = [
  operation<Pages, undefined>({
    ...{ ...at('GET /templates'), id: 'listTemplates', ...reads, summary: 'Templates in their order' },
    ...{ query: Pages, answers: 'Template', lists: true, status: 200 },
    run: async ({ query }) => paged(await readTemplates(), query),
  }),
  operation<never, NewTemplate>({
    ...{
      ...at('POST /templates'),
      id: 'createTemplate',
      did: 'Made the template “{name}”',
      ...writes,
      summary: 'A new template',
    },
    ...{ body: 'NewTemplate', answers: 'Template', status: 201 },
    run: ({ body }) => createTemplate(body),
  }),
  operation({
    ...{
      ...at('PUT /templates/order'),
      id: 'orderTemplates',
      did: 'Put the templates in another order',
      ...writes,
      summary: 'The order of the templates',
    },
    description: 'It decides where several are equally near to an address.',
    ...{ body: 'OrderChange', checkedBy: 'service', status: 204 },
    run: ({ body }) => orderTemplates(body),
  }),
  operation({
    ...{ ...at('GET /templates/{templateId}'), id: 'readTemplate', ...reads, summary: 'One template' },
    ...{ answers: 'Template', status: 200 },
    run: ({ params }) => readTemplate(params.templateId ?? ''),
  }),
  operation({
    ...{
      ...at('PUT /templates/{templateId}'),
      id: 'saveTemplate',
      did: 'Changed the template “{name}”',
      ...writes,
      status: 200,
    },
    summary: 'A template in another state; visitors see it with the next release',
    ...{ body: 'Template', checkedBy: 'service', answers: 'Template', refuses: [409] },
    current: ({ templateId }) => readTemplate(templateId ?? ''),
    run: async ({ params, body }) => {
      sameId(body, params.templateId, 'template');
      return (await saveTemplate(params.templateId ?? '', body)).template;
    },
  }),
  operation({
    ...{
      ...at('DELETE /templates/{templateId}'),
      id: 'deleteTemplate',
      did: 'Deleted the template “{name}”',
      ...writes,
      status: 204,
    },
    summary: 'Deletes a template',
    refuses: [409],
    current: ({ templateId }) => readTemplate(templateId ?? ''),
    run: ({ params }) => deleteTemplate(params.templateId ?? ''),
  }),
  operation({
    ...{
      ...at('POST /templates/{templateId}/edits'),
      id: 'editTemplate',
      goesOn: true,
      did: 'Worked on the template “{name}”',
      ...writes,
      status: 200,
    },
    summary: 'Keeps what was done to a template since one of its versions',
    description:
      'Each operation says what its maker saw at the place that it changes. What others have kept meanwhile stays where it is another place; where it is the same one, nothing is written.',
    ...{ body: 'TemplateEditsAsked', checkedBy: 'service', answers: 'EditedTemplate', refuses: [409] },
    run: ({ params, body }) => editTemplate(params.templateId ?? '', body),
  }),
  operation({
    ...{
      ...at('PUT /templates/{templateId}/serves'),
      id: 'saveServing',
      did: 'Changed what the template “{name}” serves',
      ...writes,
      summary: 'What a template serves',
    },
    ...{ body: 'ServingChange', checkedBy: 'service', answers: 'Template', status: 200, refuses: [409] },
    run: ({ params, body }) => saveServing(params.templateId ?? '', body),
  }),
  operation({
    ...{
      ...at('POST /templates/{templateId}/assign'),
      id: 'assignRecords',
      did: 'Had {n} records be answered by a template of their own',
      ...writes,
      status: 200,
    },
    summary: 'Has chosen records be answered by a template',
    ...{ body: 'AssignedAsked', checkedBy: 'service', answers: 'Anything' },
    run: ({ params, body }) => assignRecords(params.templateId ?? '', body),
  }),
  operation({
    ...{
      ...at('GET /templates/{templateId}/versions'),
      id: 'listVersions',
      ...reads,
      summary: 'Earlier states of a template',
    },
    ...{ answers: 'Versions', status: 200 },
    run: ({ params }) => readVersions(params.templateId ?? ''),
  }),
  operation({
    ...{
      ...at('GET /templates/{templateId}/versions/{version}'),
      id: 'readVersion',
      ...reads,
      summary: 'One earlier state',
    },
    ...{ answers: 'Version', status: 200 },
    run: ({ params }) => readVersion(params.templateId ?? '', Number(params.version) || 0),
  }),
  operation({
    ...{
      ...at('GET /loose-ends'),
      id: 'listLooseEnds',
      ...reads,
      summary: 'What a designer should look at, by template',
    },
    ...{ answers: 'LooseEnds', status: 200 },
    run: async () => {
      const [model, all, { theme }] = await Promise.all([readModel(), readTemplates(), readTheme()]);
      const parts = partsAmong(all);
      return all.flatMap((template) =>
        looseEndsOf(template, model, parts, theme).map((end) => ({ templateId: template.id, ...end })),
      );
    },
  }),
  operation({
    ...{
      ...at('GET /rules'),
      id: 'listRules',
      tag: 'Rules',
      who: 'reader',
      summary: 'Rules kept under a name, and their uses',
    },
    ...{ answers: 'RulesWithUses', status: 200 },
    run: async () => ({ rules: (await readModel()).rules, uses: await ruleUses() }),
  }),
  operation<never, object>({
    ...{
      ...at('POST /rules'),
      id: 'createRule',
      did: 'Kept the rule “{name}”',
      ...rules_,
      summary: 'Keeps a rule under a name',
    },
    ...{ body: 'NewRule', checkedBy: 'service', answers: 'Rule', status: 201 },
    run: ({ body }) => saveRule({ ...body, id: undefined }),
  }),
  operation<never, object>({
    ...{
      ...at('PUT /rules/{ruleId}'),
      id: 'saveRule',
      did: 'Changed the rule “{name}”',
      ...rules_,
      summary: 'A kept rule in another state',
    },
    ...{ body: 'Rule', checkedBy: 'service', answers: 'Rule', status: 200, refuses: [409] },
    current: ({ ruleId }) => ruleNamed(ruleId),
    run: ({ params, body }) => saveRule({ ...body, id: params.ruleId }),
  }),
  operation({
    ...{
      ...at('DELETE /rules/{ruleId}'),
      id: 'deleteRule',
      did: 'Deleted the rule “{name}”',
      ...rules_,
      summary: 'Deletes a rule that nothing uses',
    },
    ...{ status: 204, refuses: [409] },
    current: ({ ruleId }) => ruleNamed(ruleId),
    run: ({ params }) => deleteRule(params.ruleId ?? ''),
  }),
];
