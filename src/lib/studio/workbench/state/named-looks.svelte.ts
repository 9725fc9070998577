import { keyOf } from '$lib/core/base/text';
import type { Element, Tree } from '$lib/core/schema/element';
import type { Style } from '$lib/core/schema/style';
import type { NamedLook, Theme } from '$lib/core/schema/theme';
import { joinedStyle } from '$lib/core/styles/style';
import { isSet } from '$lib/core/templates/looks';
import type { TreeOperation } from '$lib/core/templates/edits';
import type { Api } from '$lib/client/api';
import { api as studioApi } from '../../base/api';
import { failureWords, type RequestFailed } from '../../base/request';

interface NamedLooksHost {
  theme: Theme;
  readonly tree: Tree;
  nameOf(id: string): string;
  edit(label: string, ...operations: TreeOperation[]): boolean;
}

/** How often a change is put onto what somebody else has saved meanwhile. */
const TRIES = 4;
const MOST_BEFORE = 100;

/** Looks with names: how an element's looks become one, and how one is changed for everything that has it. */
export class NamedLooks {
  /** The look that is changed itself, in place of the element that has it. */
  editing: string | undefined = $state();
  /** Why the last change was not kept. */
  failed: string = $state('');
  /** Looks as they were before each change that was made here, the last one last. */
  private before: NamedLook[] = $state.raw([]);
  private saving: Promise<void> = Promise.resolve();

  constructor(
    private readonly host: NamedLooksHost,
    private readonly api: Api = studioApi,
  ) {}

  of({ look }: Pick<Element, 'look'>): NamedLook | undefined {
    return look === undefined ? undefined : this.host.theme.looks.find(({ key }) => key === look);
  }

  /** Keeps an element's looks under a name; the element has them by that name from then on. */
  keep(id: string, name: string): void {
    const { tree, theme } = this.host;
    const element = tree.elements[id];
    if (!element || !name.trim()) return;
    const base = keyOf(name, 'look').replace(/_/g, '-').slice(0, 36);
    let key = base;
    for (let n = 2; theme.looks.some((one) => one.key === key); n++) key = `${base}-${n}`;
    const before = this.of(element);
    const style = before ? joinedStyle(before.style, element.style) : (element.style ?? {});
    this.write({ key, name: name.trim().slice(0, 60), kind: element.kind, style: withoutEmpty(style) ?? {} });
    this.host.edit(
      `Kept the looks of ${this.host.nameOf(id)} as ${name.trim()}`,
      { do: 'put', id, at: ['look'], value: key },
      { do: 'put', id, at: ['style'], value: undefined },
    );
  }

  /** Puts a look on an element, or none. */
  put(id: string, key: string | undefined): void {
    const name = this.host.theme.looks.find((one) => one.key === key)?.name;
    this.host.edit(
      name ? `Put the look ${name} on ${this.host.nameOf(id)}` : `Took the look of ${this.host.nameOf(id)} away`,
      {
        do: 'put',
        id,
        at: ['look'],
        value: key,
      },
    );
    this.editing = undefined;
  }

  /** Gives an element the look's own settings, and lets it go its own way. */
  apart(id: string): void {
    const element = this.host.tree.elements[id];
    const look = element && this.of(element);
    if (!look) return;
    this.editing = undefined;
    this.host.edit(
      `Took ${this.host.nameOf(id)} apart from ${look.name}`,
      { do: 'put', id, at: ['look'], value: undefined },
      { do: 'put', id, at: ['style'], value: withoutEmpty(joinedStyle(look.style, element.style)) },
    );
  }

  /** What of an element is set otherwise than its look has it. */
  differs(element: Element): Set<string> {
    return this.of(element) ? isSet(element) : new Set();
  }

  /** Changes a look for everything that has it, at once; it is kept behind. */
  change(key: string, style: Style): void {
    const look = this.host.theme.looks.find((one) => one.key === key);
    if (!look) return;
    this.before = [...this.before.slice(1 - MOST_BEFORE), look];
    this.write({ ...look, style: withoutEmpty(style) ?? {} });
  }

  /** Whether the look that is changed itself was changed here. */
  get changed(): boolean {
    return this.editing !== undefined && this.before.some(({ key }) => key === this.editing);
  }

  /** Takes the last change of the look that is changed itself back, for everything that has it. */
  takeBack(): void {
    const at = this.before.findLastIndex(({ key }) => key === this.editing);
    const look = this.before[at];
    if (!look) return;
    this.before = this.before.filter((_, i) => i !== at);
    this.write(look);
  }

  /** Resolves when everything has been kept, or refused. */
  settled(): Promise<void> {
    return this.saving;
  }

  private write(look: NamedLook): void {
    const { theme } = this.host;
    this.host.theme = { ...theme, looks: withLook(theme.looks, look) };
    this.saving = this.saving.then(() => this.save(look));
  }

  private async save(look: NamedLook): Promise<void> {
    // What was changed again meanwhile is kept as it is then.
    const now = this.host.theme.looks.find(({ key }) => key === look.key);
    if (now && now !== look) return;
    for (let n = 0; n < TRIES; n++) {
      try {
        const stored = await this.api('GET /theme');
        const theme = { ...stored.theme, looks: withLook(stored.theme.looks, look) };
        await this.api('PUT /theme', { body: { theme, version: stored.version } });
        this.failed = '';
        return;
      } catch (error) {
        this.failed = failureWords(error);
        if ((error as RequestFailed).status !== 409) return;
      }
    }
  }
}

const withLook = (looks: readonly NamedLook[], look: NamedLook): NamedLook[] =>
  looks.some(({ key }) => key === look.key)
    ? looks.map((one) => (one.key === look.key ? look : one))
    : [...looks, look];

/** A style without widths at which nothing is said; undefined where nothing is said at all. */
function withoutEmpty(style: Style): Style | undefined {
  const said = Object.entries(style).filter(([, own]) => own && Object.keys(own).length);
  return said.length ? Object.fromEntries(said) : undefined;
}
