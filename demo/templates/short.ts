import { boundTo, type Nested } from '../../src/lib/core/templates/build';
import type { SlotValue } from '../../src/lib/core/schema/binding';

type More = Parameters<typeof boundTo>[2];

/** A slot bound to a value of the page's record. */
export const field = (id: string, more?: More): SlotValue => boundTo('record', [id], more);

export const test = (test: string, from: string, steps: string[], operand?: unknown) => ({
  test,
  path: { from, steps },
  ...(operand === undefined ? {} : { operand }),
});
type Test = ReturnType<typeof test>;
export const all = (...rules: Test[]) => ({ group: 'all' as const, rules });
export const any = (...rules: Test[]) => ({ group: 'any' as const, rules });
export const none = (...rules: Test[]) => ({ group: 'none' as const, rules });
export const filled = (id: string, from = 'record') => test('filled', from, [id]);

/** A rule of the demo that is kept under a name; see `keptRules`. */
export const kept = (named: string) => ({ group: 'all' as const, rules: [{ named }] });

/** The value of a slot as something that stands in a sentence. */
export const bound = (value: SlotValue) => ('bound' in value ? value.bound : undefined);

export const text = (slot: SlotValue, props: Record<string, unknown> = {}, more: Partial<Nested> = {}): Nested => ({
  kind: 'text',
  props,
  slots: { text: slot },
  ...more,
});
export const heading = (level: number, slot: SlotValue | string, more: Partial<Nested> = {}): Nested => ({
  kind: 'heading',
  props: { level, ...(more.props ?? {}) },
  slots: { text: typeof slot === 'string' ? { fixed: slot } : slot, ...(more.slots ?? {}) },
});
/** A section under a heading of level 2 that is there only while its field has a value. */
export const chapter = (title: string, id: string, ...children: Nested[]): Nested => ({
  kind: 'box',
  name: title,
  props: { as: 'section', gap: 'm' },
  rule: all(filled(id)),
  children: [heading(2, title), ...children],
});
export const date = (pattern: string) => [{ format: 'date', options: { style: 'pattern', pattern } }];
export const cut = (count: number) => [{ format: 'cut', options: { count, by: 'words' } }];

/** What an archive lists, and what is said of that. */
export const archiveTitle = (): Nested => ({
  kind: 'box',
  name: 'Title',
  props: { as: 'header', gap: 's' },
  children: [heading(1, boundTo('archive', ['@title'])), text(boundTo('archive', ['@description']))],
});
