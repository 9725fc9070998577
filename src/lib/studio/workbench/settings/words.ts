import type { JSONContent } from '@tiptap/core';
import type { Binding, Run } from '$lib/core/schema/binding';

/** The name of the node that stands for a value in the editor of sentences. */
export const VALUE_NODE = 'value';

/** A sentence as the editor holds it. */
export function docOf(words: Run[][]): JSONContent {
  return {
    type: 'doc',
    content: (words.length ? words : [[]]).map((runs) => ({
      type: 'paragraph',
      content: runs.flatMap((run): JSONContent[] => {
        const marks = [
          ...(run.strong ? [{ type: 'bold' }] : []),
          ...(run.em ? [{ type: 'italic' }] : []),
          ...(run.link && 'fixed' in run.link ? [{ type: 'link', attrs: { href: String(run.link.fixed) } }] : []),
        ];
        const link = run.link && 'bound' in run.link ? run.link : undefined;
        if (run.bound) return [{ type: VALUE_NODE, attrs: { bound: run.bound, link }, marks }];
        const parts = (run.text ?? '').split('\n');
        return parts.flatMap((text, i): JSONContent[] => [
          ...(i ? [{ type: 'hardBreak' }] : []),
          ...(text ? [{ type: 'text', text, marks }] : []),
        ]);
      }),
    })),
  };
}

/** What the editor holds as a sentence; stretches that are styled alike are one. */
export function runsOf(doc: JSONContent): Run[][] {
  return (doc.content ?? []).map((paragraph) => {
    const runs: Run[] = [];
    for (const node of paragraph.content ?? []) {
      const has = (type: string) => node.marks?.some((mark) => mark.type === type) ?? false;
      const href = node.marks?.find((mark) => mark.type === 'link')?.attrs?.href as string | undefined;
      const styled: Partial<Run> = {
        ...(has('bold') ? { strong: true } : {}),
        ...(has('italic') ? { em: true } : {}),
        ...(href ? { link: { fixed: href } } : {}),
      };
      if (node.type === VALUE_NODE) {
        const link = node.attrs?.link as Run['link'];
        runs.push({ bound: node.attrs?.bound as Binding, ...styled, ...(link ? { link } : {}) });
        continue;
      }
      const text = node.type === 'hardBreak' ? '\n' : (node.text ?? '');
      const last = runs.at(-1);
      const same = last && !last.bound && JSON.stringify({ ...last, text: undefined }) === JSON.stringify(styled);
      if (last && !last.bound && (same || text === '\n')) last.text = (last.text ?? '') + text;
      else runs.push({ text, ...styled });
    }
    return runs;
  });
}
