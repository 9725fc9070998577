import type { ContentRecord, Media } from '$lib/core/schema/record';
import { endsInTree } from '$lib/core/checks/loose-ends';
import { endsOfRules, overlapsIn, ruleVerdictWords } from '$lib/core/checks/rules';
import { problem } from '$lib/core/base/result';
import { lackWords } from '$lib/core/checks/lacking';
import { firstTab, type SettingsTab } from '$lib/core/checks/places';
import { whyOf, type Why } from '$lib/core/checks/why';
import { elementNamed } from '$lib/core/elements';
import { coloursCss } from '$lib/core/elements/common';
import { kindOf } from '$lib/core/model/field';
import { indexModel } from '$lib/core/model/model';
import type { ModelIndex } from '$lib/core/model/model-index';
import type { Scopes, ValueType } from '$lib/core/paths/scopes';
import type { Take } from '$lib/core/schema/binding';
import {
  compileTree,
  IN_PART,
  scopesOf,
  type CompiledElement,
  type CompiledTree,
  type LooseEnd,
  type PartFinder,
} from '$lib/core/render/compile';
import type { Element, Tree } from '$lib/core/schema/element';
import type { Model } from '$lib/core/schema/model';
import type { Screen } from '$lib/core/schema/style';
import type { Path } from '$lib/core/schema/path';
import type { Template } from '$lib/core/schema/template';
import type { Theme } from '$lib/core/schema/theme';
import type { TreeOperation } from '$lib/core/templates/edits';
import { bindingSlot, repeating, type Drop, type DropContext } from '$lib/core/templates/landing';
import { nameOf } from '$lib/core/templates/names';
import type { Serving } from '$lib/core/serving/resolution';
import { typeOf, typesServed } from '$lib/core/templates/served';
import { usesOf, type Piece, type PathUse } from '$lib/core/templates/tree';
import { completeTheme, themeCss } from '$lib/core/theme/theme';
import { failureWords } from '../../base/request';
import { api } from '../../base/api';
import type { Head } from '../../survey/messages';
import { Survey } from '../../survey/survey.svelte';
import { Clipboard } from './clipboard.svelte';
import { Commands } from './commands';
import { History } from './history.svelte';
import { drawings } from '../../values/drawings.svelte';
import { NamedRules } from './named-rules.svelte';
import { NamedLooks } from './named-looks.svelte';
import { Preview } from './preview.svelte';
import { Saving } from './saving.svelte';
import { Selection } from './selection.svelte';
import { SiteLists } from './site-lists.svelte';
import { measured } from './measured';

/** Records that are read anew in one question. */
const AT_ONCE = 500;
const idsIn = (value: unknown): number[] =>
  (Array.isArray(value) ? value : [value]).filter((one) => typeof one === 'number');

/** More records of a type than these are not held here. */
const MOST_AT_HAND = 4000;

export interface WorkbenchData {
  model: Model;
  records: ContentRecord[];
  media: Media[];
  /** Types of which the workbench has only some records, with how many there are. */
  partial: Record<string, number>;
  template: Template;
  /** Every part, this template too where it is one. */
  parts: Template[];
  /** What each template of the site serves: they contend with this one. */
  templates: Serving[];
  /** Of a part: the templates on whose pages it stands. */
  holders?: Template[];
  theme: Theme;
  /** Whether a frame has a heading of the first level, so that pages need none. */
  titled?: boolean;
  /** Whoever has it open may only look. */
  looking?: boolean;
}

/**
 * One template on the workbench: what is known of it, and the rooms in which it is worked on. The tree is immutable; every
 * change goes through the history, which tells selection and saving of it.
 */
export class Workbench {
  partial: Record<string, number> = $state.raw({});
  /** Records that were put on screen before those in front of them were here. */
  private readonly brought = new Set<number>();
  /** Counts how often what stands around the template was read anew. */
  reads = 0;
  readonly looking: boolean;
  private readonly titled: boolean;
  media: Media[] = $state.raw([]);
  model: Model = $state.raw() as Model;
  records: ContentRecord[] = $state.raw([]);
  template: Template = $state.raw() as Template;
  theme: Theme = $state.raw() as Theme;
  parts: Template[] = $state.raw([]);
  templates: Serving[] = $state.raw([]);
  holders: Template[] = $state.raw([]);
  /** The tree as it was when it was opened. */
  readonly opened: Tree;
  /** Values on the shelf and the elements they feed light up together. */
  litPath: Path | undefined = $state.raw();
  /** What stands where the page is: the page itself, many pages, or where everything appears. */
  view: 'page' | 'proof' | 'coverage' = $state('page');
  /** The widths that looks are set for: every one, or those up to the most of a narrower screen. Chosen by hand alone. */
  widths: Screen = $state('wide');
  /** Counts the pieces that were placed: what is new is filled first, whatever was worked on before. */
  placed = $state(0);
  /** The tab that the settings were last asked to open, counted so that it can be asked for again. */
  asked: { tab: SettingsTab; n: number; placed: boolean } | undefined = $state.raw();
  /** What is to be looked at on the canvas as it stands there, such as text that cannot be read. */
  seen: LooseEnd[] = $state.raw([]);
  /** What was last said to the designer, such as what a paste refused. */
  notice: string = $state('');
  /** Set by the canvas: shows at once what the page has become. */
  show: (() => void) | undefined;

  index: ModelIndex = $derived(indexModel(this.model));
  tree: Tree = $derived(this.template.tree);
  typeId: string = $derived(typeOf(this.template, this.index) ?? '');
  private serves: Template['serves'] = $derived(this.template.serves);
  /** What its records are called, such as “huts and trails”. */
  plural: string = $derived(
    new Intl.ListFormat('en').format(
      typesServed({ serves: this.serves }, this.index).map(
        (id) => this.index.type(id)?.plural.toLowerCase() ?? 'records',
      ),
    ) || 'records',
  );
  scopes: Scopes = $derived(scopesOf(this.template, this.index));
  private partFinder: PartFinder = $derived.by(() => {
    const byId = new Map(this.parts.map((part) => [part.id, part]));
    return (id) => byId.get(id);
  });
  compiled: CompiledTree = $derived(this.compile('studio'));
  /** As visitors get it, to know what is on the page. */
  plain: CompiledTree = $derived.by(() => (this.preview.isPage ? this.compiled : this.compile('marked')));
  uses: PathUse[] = $derived(usesOf(this.tree));

  readonly history = new History(this);
  readonly saving = new Saving(this);
  readonly selection = new Selection(this);
  readonly lists: SiteLists = new SiteLists(this);
  readonly preview: Preview = new Preview(this);
  readonly commands = new Commands(this);
  readonly clipboard = new Clipboard(this);
  readonly rules = new NamedRules(this);
  readonly looks = new NamedLooks(this);
  readonly survey = new Survey(this);

  private themeSheet: string = $derived(themeCss(completeTheme(this.theme)));
  css: string = $derived(this.themeSheet + this.compiled.css + coloursCss(this.preview.drawing.env.colours));
  /** Pages that lack something, as loose ends of the page itself. */
  private lacks: LooseEnd[] = $derived.by(() =>
    (['bare', 'untitled'] as const).flatMap((lack) => {
      const heads = this.survey.lacking[lack];
      if (!heads.length) return [];
      const some = heads.slice(0, 5).map(({ title }) => title);
      return {
        ...problem('page', lackWords(lack, some, heads.length - some.length), 'Look at the first of them.'),
        elementId: this.tree.root,
        via: 'page',
      };
    }),
  );

  looseEnds: LooseEnd[] = $derived([
    ...this.compiled.looseEnds,
    ...endsOfRules(this.tree, this.compiled.elements, this.preview.ruleEnv),
    ...endsInTree(this.template, completeTheme(this.theme)),
    ...this.seen.filter(({ elementId }) => this.tree.elements[elementId]),
    ...this.lacks,
  ]);

  private compile(how: 'studio' | 'marked'): CompiledTree {
    // Once the drawings of icons are there, what was drawn without them is drawn again.
    void drawings.known;
    const { tree, scopes, index, partFinder, template, theme } = this;
    return measured('compile', () =>
      compileTree(tree, scopes, index, { [how]: true, parts: partFinder, id: template.id, looks: theme.looks }),
    );
  }

  constructor(data: WorkbenchData) {
    this.model = data.model;
    this.records = data.records;
    this.media = data.media;
    this.partial = data.partial;
    this.looking = data.looking ?? false;
    this.titled = data.titled ?? false;
    this.template = data.template;
    this.parts = data.parts;
    this.templates = data.templates;
    this.holders = data.holders ?? [];
    this.theme = data.theme;
    this.opened = data.template.tree;
    this.selection.id = data.template.tree.root;
    this.preview.recordId = this.preview.strip[0]?.id;
  }

  /**
   * Takes over what has changed around the template since it was opened: the model, records, files, parts, the theme. The
   * template itself is what is worked on here.
   */
  follow(data: WorkbenchData): void {
    this.reads++;
    this.brought.clear();
    this.model = data.model;
    this.records = data.records;
    this.media = data.media;
    this.partial = data.partial;
    this.parts = data.parts.map((part) => (part.id === this.template.id ? this.template : part));
    this.templates = data.templates;
    this.holders = data.holders ?? [];
    this.theme = data.theme;
    this.lists.forget();
    this.show?.();
  }

  /**
   * Fetches more records of types of which only the first are here, while work goes on: to flip through, and to suppose
   * things of. Lists over more are asked of the site; who counts and looks through all of them fetches the rest.
   */
  async fetchMore(): Promise<void> {
    const { reads } = this;
    for (const typeId of Object.keys(this.partial)) {
      const own = () => this.records.filter((record) => record.typeId === typeId);
      while (this.partial[typeId] !== undefined && own().length < MOST_AT_HAND) {
        const after = this.fetchedUpTo(typeId);
        const { records } = await api('GET /workbench/records', { query: { type: typeId, after } });
        // Everything was read anew meanwhile; that fetches its own.
        if (reads !== this.reads) return;
        const known = new Set(records.map(({ id }) => id));
        this.records = [...this.records.filter(({ id }) => !known.has(id)), ...records];
        for (const id of known) this.brought.delete(id);
        if (!records.length || own().length >= this.partial[typeId]) {
          const { [typeId]: _, ...rest } = this.partial;
          this.partial = rest;
        }
      }
    }
  }

  /** The number up to which all records of a type are here. */
  fetchedUpTo(typeId: string): number {
    return this.records.reduce(
      (last, one) => (one.typeId === typeId && !this.brought.has(one.id) ? Math.max(last, one.id) : last),
      0,
    );
  }

  /** Titles that contain words, of records of the types that it serves which are not here. */
  async findElsewhere(words: string): Promise<{ id: number; title: string }[]> {
    const typeIds = typesServed({ serves: this.serves }, this.index).filter((id) => this.partial[id] !== undefined);
    if (!typeIds.length || !words.trim()) return [];
    const found = await api('GET /records/titles', {
      query: { types: typeIds.join(), search: words.slice(0, 200) },
    });
    const here = new Set(this.records.map(({ id }) => id));
    return found.filter(({ id }) => !here.has(id));
  }

  /** Puts a record on screen; one that is not here is fetched first. */
  async bring(id: number): Promise<void> {
    if (this.records.some((one) => one.id === id)) return this.preview.put(id);
    const record = await api('GET /records/{recordId}', { recordId: id });
    if (!this.records.some((one) => one.id === id)) {
      this.brought.add(id);
      this.records = [...this.records, record];
    }
    this.preview.put(id);
  }

  /** How many records of a type are here. */
  atHand(typeId: string): number {
    return this.records.reduce((sum, record) => (record.typeId === typeId ? sum + 1 : sum), 0);
  }

  /** Opens a tab of the settings; what is `placed` with its value leaves looks open, for one after the other. */
  open(tab: SettingsTab, placed = false): void {
    this.asked = { tab, n: (this.asked?.n ?? 0) + 1, placed };
  }

  /** Opens the tab where the first decision about what was placed is made. */
  begin(id: string): void {
    const { kind = '', slots = {} } = this.tree.elements[id] ?? {};
    this.open(
      firstTab(elementNamed(kind)),
      Object.values(slots).some((slot) => !('fixed' in slot)),
    );
  }

  /** Applies an edit, keeps what takes it back, and saves. Returns false where it cannot be applied. */
  edit(label: string, ...operations: TreeOperation[]): boolean {
    this.notice = this.looking ? 'You look at this template; a designer changes it.' : '';
    if (this.looking) return false;
    return this.history.edit(label, ...operations);
  }

  /** Puts another state of the template in the place of this one; undoing brings this one back. */
  replaceTree(tree: Tree, label: string): void {
    this.edit(label, { do: 'replace', tree });
  }

  /** Told by the history of every new tree. */
  settle(tree: Tree, label: string, operations: readonly TreeOperation[]): void {
    const before = this.tree;
    this.template = { ...this.template, tree };
    this.show?.();
    this.selection.follow(operations);
    this.saving.note(before, label, operations);
  }

  /** Does what was dropped. */
  drop({ label, operations, select, placed }: Drop): void {
    if (!this.edit(label, ...operations)) return;
    this.selection.select(select);
    if (placed) this.begin(select);
  }

  /** Binds a slot to a path, with a take where it has several values. */
  bind(id: string, slot: string, path: Path, type: ValueType, take?: Take): void {
    const drop = bindingSlot(this.ground(), id, slot, path, type, take);
    if (drop) this.drop(drop);
  }

  /** What repeats over the values at a path; undefined where there is one. */
  repeating(path: Path, type: ValueType, scopes: Scopes): { piece: Piece; label: string } | undefined {
    return repeating(this, path, type, scopes);
  }

  /** What landing asks of the template. */
  ground(): DropContext {
    const { tree, index, typeId, parts, template } = this;
    return {
      tree,
      index,
      typeId,
      parts: parts.filter((part) => part.id !== template.id),
      heads: !this.titled && (template.purpose === 'record' || template.purpose === 'archive'),
      scopesAt: (id) => this.scopesAt(id),
      scopesIn: (id) => this.scopesIn(id),
      nameOf: (id) => this.nameOf(id),
    };
  }

  element(id: string): Element | undefined {
    return this.tree.elements[id];
  }

  compiledOf(id: string): CompiledElement | undefined {
    return this.compiled.elements.get(id);
  }

  /** The scopes of what an element's own slots read. */
  scopesAt(id: string): Scopes {
    return this.compiled.elements.get(id)?.scopes ?? this.scopes;
  }

  /** The scopes that a thing put at this element would have: inside it where it holds others. */
  scopesIn(id: string): Scopes {
    const made = this.compiled.elements.get(id);
    const holds = elementNamed(this.tree.elements[id]?.kind ?? '')?.holds;
    return (holds ? made?.inside : made?.scopes) ?? this.scopes;
  }

  /** What an element is called among others: its name, or what it says or is bound to. */
  titleOf(id: string): string {
    const [own = '', ...inside] = id.split(IN_PART);
    let element = this.tree.elements[own];
    let words = element ? nameOf(element, this.index) : 'an element';
    for (const step of inside) {
      const part = this.parts.find((one) => one.id === element?.props.part);
      element = part?.tree.elements[step];
      words = `${part?.name ?? 'Part'} › ${element ? nameOf(element, this.index) : 'an element'}`;
    }
    return words;
  }

  /** Whether its pages are those of records. */
  get showsRecords(): boolean {
    return (this.template.purpose === 'record' || this.template.purpose === 'part') && Boolean(this.typeId);
  }

  /** What the pages of the template are called, many of them. */
  pagesWords(): string {
    const { purpose } = this.template;
    const { length } = this.preview.archives;
    if (purpose === 'archive') return `pages of ${length} ${length === 1 ? 'archive' : 'archives'}`;
    return purpose === 'frame' ? 'pages' : this.plural;
  }

  /** Puts what a drawing is about on screen: a record, a page of an archive, a turn of a loop. */
  lookAt(head: Head, loop?: string): void {
    if (head.archive) {
      this.preview.lookAt(head.archive);
      this.preview.page = head.archive.page;
    } else if (head.recordId !== undefined) void this.bring(head.recordId).catch(() => undefined);
    const made = loop === undefined ? undefined : this.compiled.elements.get(loop);
    if (made && loop !== undefined) {
      const chain = [...made.scopes.loops.map(({ id }) => id), loop];
      this.preview.turns = {
        ...this.preview.turns,
        ...Object.fromEntries(chain.map((id, depth) => [id, head.at?.[depth] ?? 0])),
      };
      this.selection.select(loop);
    }
    this.view = 'page';
  }

  /** The name of an element: the designer's, or its kind. */
  nameOf(id: string): string {
    const element = this.tree.elements[id];
    if (!element) return 'an element';
    return element.name || elementNamed(element.kind)?.label || element.kind;
  }

  /** Why an element is on the page on screen, or is not. */
  whyOf(id: string): Why {
    return whyOf(
      this.tree,
      this.plain.elements,
      id,
      ({ scopes }) => this.preview.envAt(scopes),
      (one) => Boolean(this.preview.fates.get(one)?.drawn),
    );
  }

  /** What is known of an element's rule whatever a record says; undefined where that is nothing. */
  saidOfRule(id: string): string | undefined {
    const rule = this.compiled.elements.get(id)?.rule;
    return rule && ruleVerdictWords(rule, this.preview.ruleEnv);
  }

  /** For each branch of alternatives the later ones that may hold together with it. */
  overlapsOf(id: string): number[][] {
    const children = this.tree.elements[id]?.children ?? [];
    return overlapsIn(
      children.map((child) => this.compiled.elements.get(child)?.rule),
      this.preview.ruleEnv,
    );
  }

  /** Puts a record on screen, on the page itself. */
  designWith(recordId: number): void {
    this.preview.put(recordId);
    this.view = 'page';
  }

  /** Holds an element open and unfolds what it stands in, or lets go of it. */
  hold(id: string): void {
    if (this.preview.hold(id)) this.selection.reveal(id);
  }

  /** Takes over what the template serves, as it was kept elsewhere on the screen. */
  servesNow({ serves, except, version }: Pick<Template, 'serves' | 'except' | 'version'>): void {
    this.template = { ...this.template, serves, except, version };
  }

  /** Puts records in the place of what is here of them; all others stay, however many there are. */
  private putRecords(fresh: readonly ContentRecord[]): void {
    const byId = new Map(fresh.map((one) => [one.id, one]));
    this.records = this.records.map((one) => byId.get(one.id) ?? one);
  }

  /** Reads records anew that are here, so many at once as the site answers. */
  private async readAgain(ids: readonly number[]): Promise<void> {
    const here = new Set(this.records.map(({ id }) => id));
    const idsHere = [...new Set(ids)].filter((id) => here.has(id));
    for (let i = 0; i < idsHere.length; i += AT_ONCE) {
      const some = idsHere.slice(i, i + AT_ONCE).join();
      const { records } = await api('GET /workbench/records', { query: { ids: some } });
      this.putRecords(records);
    }
  }

  /** Writes one value of a record, and shows it at once. Returns what was wrong. */
  async correct(record: ContentRecord, fieldId: string, value: unknown): Promise<string | undefined> {
    try {
      const change = fieldId === '@title' ? { title: String(value) } : { values: { [fieldId]: value } };
      const saved = await api('PATCH /records/{recordId}', {
        recordId: record.id,
        body: {
          version: record.version,
          ...change,
        },
      });
      this.putRecords([saved]);
      const field = this.index.field(fieldId)?.field;
      const kind = field && kindOf(field)?.kind;
      // A relation changes its other side too: of those records that are here, those that it led to, and now leads to.
      if (kind?.pointsAt === 'record')
        await this.readAgain([...idsIn(record.values[fieldId]), ...idsIn(saved.values[fieldId])]);
      // A picture may be new to the library.
      else if (kind?.pointsAt || kind?.refs) this.media = (await api('GET /workbench')).media;
      return undefined;
    } catch (error) {
      return failureWords(error);
    }
  }
}
