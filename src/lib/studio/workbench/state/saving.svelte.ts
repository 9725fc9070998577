import { mergeOperations, sawOf, type SentOperation } from '$lib/core/templates/merging';
import { applyOperation, type TreeOperation } from '$lib/core/templates/edits';
import type { Tree } from '$lib/core/schema/element';
import type { Template } from '$lib/core/schema/template';
import { newId } from '$lib/core/base/ids';
import type { Api, ResponseOf } from '$lib/client/api';
import { api as studioApi } from '../../base/api';
import { type RequestFailed } from '../../base/request';

export type SaveState =
  | { is: 'saved' }
  | { is: 'saving' }
  | { is: 'unsaved' }
  | { is: 'failed'; why: string; final: boolean; conflict?: boolean };

const SAVE_AFTER = 400;
const RETRY_AFTER = 3000;

export interface SavingHost {
  template: Template;
  /** Puts a tree in the place of this one, to be taken back by undoing. */
  replaceTree(tree: Tree, label: string): void;
}

/** What the server answers to edits. */
type Edited = ResponseOf<'POST /templates/{templateId}/edits'>;

/**
 * Keeps a template by what was done to it since it was last kept. What others do to other places of it meanwhile comes in; where
 * it is the same place, saving stops until somebody has chosen.
 */
export class Saving {
  state: SaveState = $state.raw({ is: 'saved' });
  private operations: SentOperation[] = [];
  private labels: string[] = [];
  private name: { from: string; to: string } | undefined;
  private readonly sitting = newId('sit');
  private timer: ReturnType<typeof setTimeout> | undefined;
  private inFlight = false;

  constructor(
    private readonly host: SavingHost,
    private readonly api: Api = studioApi,
  ) {}

  /** Notes what was done to a tree, to be kept soon. */
  note(before: Tree, label: string, operations: readonly TreeOperation[]): void {
    let tree = before;
    for (const operation of operations) {
      const last = this.operations.at(-1)?.operation;
      // Letters typed at one place are one operation, which saw what stood before the first of them.
      if (operation.do === 'put' && last?.do === 'put' && samePlace(operation, last))
        this.operations[this.operations.length - 1] = { ...(this.operations.at(-1) as SentOperation), operation };
      else this.operations.push({ operation, saw: sawOf(tree, operation) });
      const applied = applyOperation(tree, operation);
      if (applied.ok) tree = applied.value.tree;
    }
    if (this.labels.at(-1) !== label) this.labels.push(label);
    this.soon();
  }

  rename(to: string): void {
    const { template } = this.host;
    if (!to.trim() || to.trim() === template.name) return;
    this.name = { from: this.name?.from ?? template.name, to: to.trim() };
    this.host.template = { ...template, name: to.trim() };
    this.soon();
  }

  private soon(): void {
    if (this.state.is === 'failed' && this.state.final) return;
    this.state = { is: 'unsaved' };
    this.again(SAVE_AFTER);
  }

  private again(after: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.now(), after);
  }

  /** Keeps at once whatever is not kept yet. */
  async now(): Promise<void> {
    clearTimeout(this.timer);
    if (this.inFlight || this.state.is === 'saved') return;
    this.inFlight = true;
    this.state = { is: 'saving' };
    const sent = { operations: this.operations, labels: this.labels, name: this.name };
    this.operations = [];
    this.labels = [];
    this.name = undefined;
    try {
      const result = await this.api('POST /templates/{templateId}/edits', {
        templateId: this.host.template.id,
        body: {
          version: this.host.template.version,
          operations: sent.operations,
          labels: sent.labels.map((label) => label.slice(0, 300)).slice(-1000),
          ...(sent.name && { name: sent.name }),
          sitting: this.sitting,
        },
      });
      this.take(result);
    } catch (error) {
      const failed = error as RequestFailed;
      this.operations = [...sent.operations, ...this.operations];
      this.labels = [...sent.labels, ...this.labels];
      // Another name may have been given meanwhile.
      const later = this.name as typeof sent.name;
      this.name = sent.name ? { from: sent.name.from, to: later?.to ?? sent.name.to } : later;
      const final = failed.status === 409 || failed.status === 404;
      const [first] = failed.problems ?? [];
      const why = first
        ? [failed.status === 409 ? failed.message : '', first.what].filter(Boolean).join(' ')
        : failed.message;
      this.state = { is: 'failed', why, final, conflict: failed.status === 409 };
      if (!final) this.again(RETRY_AFTER);
    } finally {
      this.inFlight = false;
    }
  }

  /** Takes over what was kept; what was done here meanwhile is done to it again. */
  private take({ version, name, tree }: Edited): void {
    const { template } = this.host;
    const waiting = this.operations.length > 0 || this.name !== undefined;
    const merged = tree && mergeOperations(tree, this.operations);
    this.host.template = {
      ...template,
      version,
      name: this.name ? template.name : name,
      ...(merged?.ok && { tree: merged.value }),
    };
    this.state = waiting ? { is: 'unsaved' } : { is: 'saved' };
    if (waiting) this.again(SAVE_AFTER);
  }

  /** What is kept on the server now, for looking at beside this. */
  kept(): Promise<Template> {
    return this.api('GET /templates/{templateId}', { templateId: this.host.template.id });
  }

  /** After a conflict: puts this in the place of what was saved elsewhere, which stays among the versions. */
  async keepMine(): Promise<void> {
    const theirs = await this.kept();
    const { tree, name } = this.host.template;
    const replace: TreeOperation = { do: 'replace', tree };
    this.operations = [{ operation: replace, saw: sawOf(theirs.tree, replace) }];
    this.name = name === theirs.name ? undefined : { from: theirs.name, to: name };
    this.host.template = { ...theirs, name, tree };
    this.state = { is: 'unsaved' };
    await this.now();
  }

  /** After a conflict: takes what was saved elsewhere, name and targets too; undoing brings this tree back. */
  async takeTheirs(): Promise<void> {
    const theirs = await this.kept();
    const { tree } = this.host.template;
    this.host.template = { ...theirs, tree };
    this.host.replaceTree(theirs.tree, 'Took what was saved elsewhere');
    // It stands there already.
    clearTimeout(this.timer);
    this.operations = [];
    this.labels = [];
    this.name = undefined;
    this.state = { is: 'saved' };
  }
}

const samePlace = (a: Extract<TreeOperation, { do: 'put' }>, b: Extract<TreeOperation, { do: 'put' }>): boolean =>
  a.id === b.id && a.at.join('\n') === b.at.join('\n');
