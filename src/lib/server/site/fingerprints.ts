import { createHash } from 'node:crypto';
import { canonical } from '../../core/releases/canonical';
import { usesOf } from '../../core/templates/tree';
import type { Template } from '../../core/schema/template';
import type { SiteDesign } from './design';

/** A hash of everything that a template is drawn from, beside records. */
export function fingerprintOf(design: SiteDesign): (template: Template | undefined) => string {
  const parts = new Map(design.templates.filter(({ purpose }) => purpose === 'part').map((one) => [one.id, one]));
  const known = new Map<string, string>();
  const reached = (template: Template, seen: Set<string>): Template[] => {
    if (seen.has(template.id)) return [];
    seen.add(template.id);
    const below = Object.values(template.tree.elements).flatMap(({ kind, props }) => {
      const part = kind === 'part' && typeof props.part === 'string' ? parts.get(props.part) : undefined;
      return part ? reached(part, seen) : [];
    });
    return [template, ...below];
  };
  const unversioned = <T extends { version: number }>({ version: _, ...rest }: T) => rest;
  const rules = design.model.rules.map(unversioned);
  const menus = design.model.menus.map(unversioned);
  return (template) => {
    if (!template) return 'plain';
    let fingerprint = known.get(template.id);
    if (fingerprint === undefined) {
      const all = reached(template, new Set());
      // Looks are in the style sheet, which is compared by itself.
      const trees = all.map(({ tree }) => Object.values(tree.elements).map(({ style: _, css: __, ...rest }) => rest));
      const asks = all.some(({ tree }) => usesOf(tree).length > 0);
      const lists = all.some(({ tree }) => Object.values(tree.elements).some(({ kind }) => kind === 'menu'));
      fingerprint = createHash('sha256')
        .update(canonical([template.id, trees, asks ? rules : [], lists ? menus : []]))
        .digest('hex');
      known.set(template.id, fingerprint);
    }
    return fingerprint;
  };
}
