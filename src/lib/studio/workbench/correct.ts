import type { ContentRecord } from '$lib/core/schema/record';
import { plainField } from '$lib/core/model/field';
import type { Field } from '$lib/core/model/model';
import { compileRecord } from '$lib/core/paths/compile';
import type { Path } from '$lib/core/schema/path';
import type { Scopes } from '$lib/core/paths/scopes';
import type { Workbench } from './workbench.svelte';

/** A value of a record that can be corrected from the workbench. */
export interface Correctable {
  record: ContentRecord;
  field: Field;
}

const TITLE: Field = { ...plainField('@title', 'Title', 'text'), required: true };

/** The record and field that a path ends in for what is on screen; undefined where it is no field, or no one record. */
export function correctable(wb: Workbench, path: Path, scopes: Scopes): Correctable | undefined {
  const last = path.steps.at(-1);
  const field = last === '@title' ? TITLE : last === undefined ? undefined : wb.index.field(last)?.field;
  if (!field || path.from === 'site' || path.from === 'archive') return undefined;
  const typeIds = last === '@title' ? wb.model.types.map((type) => type.id) : [wb.index.field(field.id)!.type.id];
  const made = compileRecord({ from: path.from, steps: path.steps.slice(0, -1) }, typeIds, scopes, wb.index);
  const record = made.ok ? made.value(wb.preview.envAt(scopes)) : undefined;
  return record && { record, field };
}
