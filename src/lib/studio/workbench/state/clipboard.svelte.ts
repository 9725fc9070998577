import { clipOf, piecesFrom } from '$lib/core/templates/arrange';
import { compileRule } from '$lib/core/rules/compile';
import type { TreeOperation } from '$lib/core/templates/edits';
import type { Group } from '$lib/core/schema/rule';
import type { Purpose } from '$lib/core/schema/template';
import type { Commands, CommandsHost } from './commands';

interface ClipboardHost extends Omit<CommandsHost, 'parts' | 'begin'> {
  readonly template: { purpose: Purpose };
  readonly commands: Pick<Commands, 'placeForNew'>;
}

/** Elements go through the computer's clipboard as text, so that other templates can take them; rules stay here. */
export class Clipboard {
  /** A rule that was copied, to be put on other elements. */
  rule: Group | undefined = $state.raw();

  constructor(private readonly host: ClipboardHost) {}

  /** The text of the selected elements; undefined where nothing can be copied. */
  copy(): string | undefined {
    const { tree, selection } = this.host;
    return selection.chosen.length ? clipOf(tree, selection.chosen) : undefined;
  }

  /** Puts copied elements at the place for new ones; says what is wrong where they cannot stand here. */
  paste(text: string): boolean {
    const { host } = this;
    const pieces = piecesFrom(text, host.template.purpose);
    if (!pieces.ok) {
      host.notice = [pieces.problems[0]?.what, pieces.problems[0]?.fix].filter(Boolean).join(' ');
      return false;
    }
    const { parent, index } = host.commands.placeForNew();
    const operations = pieces.value.map((piece, i): TreeOperation => ({
      do: 'insert',
      parent,
      index: index + i,
      piece,
    }));
    const label = pieces.value.length === 1 ? 'an element' : `${pieces.value.length} elements`;
    if (!host.edit(`Pasted ${label}`, ...operations)) return false;
    host.selection.select(pieces.value[0]?.top ?? host.selection.id);
    host.selection.also = pieces.value.slice(1).map(({ top }) => top);
    return true;
  }

  /** Puts a rule on an element; refused, with the reason, where some of it cannot be reached from there. */
  putRule(id: string, rule: Group): string | undefined {
    const [wrong] = compileRule(rule, this.host.scopesAt(id), this.host.index).problems;
    if (wrong) return [wrong.what, wrong.fix].filter(Boolean).join(' ');
    const label = `${this.host.nameOf(id)} appears by a copied rule`;
    this.host.edit(label, { do: 'put', id, at: ['rule'], value: rule });
    return undefined;
  }
}
