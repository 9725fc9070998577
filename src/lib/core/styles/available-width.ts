import { SCREENS, type Style, type StyleValue } from '../schema/style';
import { shareOf } from './properties';
import { SCREEN_MOST, styleAt } from './style';

/** How wide a place is on screens from `from` up: a share of the screen less so much, and at most so much. Lengths in rem of 16 px. */
export interface WidthStep {
  from: number;
  share: number;
  /** What the page keeps free at its sides, gaps and padding take of that share. */
  less: number;
  most: number;
}
/** The room of a place on every screen, the widest screens first; the last begins at 0. */
export type AvailableWidth = readonly WidthStep[];

const PX = 16;
/** What the page keeps free at both its sides together. */
const SIDES = 3;
/** What stands in a page as wide as the page. */
export const PAGE_ROOM: AvailableWidth = [{ from: 0, share: 1, less: SIDES, most: 73 }];
/** Gaps as the built-in theme has them. */
export const GAPS = { none: 0, s: 0.5, m: 1, l: 2 };
/** Padding at one side, as the built-in theme has it. */
export const PADS = { none: 0, s: 0.5, m: 1.5, l: 3 };
const SPACES: Record<string, number> = { s: 0.5, m: 1, l: 2, xl: 3, xxl: 5 };
/** From edge to edge. */
export const SCREEN_WIDTH: AvailableWidth = [{ from: 0, share: 1, less: 0, most: Infinity }];

/** Whether it is as wide as the page; what is beside something else is not. */
export const isPageWide = (room: AvailableWidth): boolean => room.every(({ share }) => share === 1);

/** The room as something else from each of some screens on; steps of both stay. */
function changed(
  room: AvailableWidth,
  froms: readonly number[],
  change: (step: WidthStep) => WidthStep,
): AvailableWidth {
  const all = [...new Set([...room.map(({ from }) => from), ...froms])].sort((a, b) => b - a);
  return all.map((from) => change({ ...(room.find((step) => step.from <= from) as WidthStep), from }));
}

/** From screens of a width up one place has an `of`th of what `gaps` together leave. */
interface Parting {
  from: number;
  of: number;
  gaps?: number;
}

/** A room of which one place has a part. */
export const parted = (room: AvailableWidth, parts: readonly Parting[]): AvailableWidth =>
  changed(
    room,
    parts.map(({ from }) => from),
    (step) => {
      const { of, gaps = 0 } = [...parts].sort((a, b) => b.from - a.from).find(({ from }) => from <= step.from) ?? {
        of: 1,
      };
      return { ...step, share: step.share / of, less: (step.less + gaps) / of, most: (step.most - gaps) / of };
    },
  );

/** So many equal places beside each other, with gaps between them. */
const equally = (from: number, of: number, gap: number): Parting => ({ from, of, gaps: gap * (of - 1) });

/** A room with so much less at both its sides together. */
export const within = (room: AvailableWidth, sides: number): AvailableWidth =>
  sides ? room.map((step) => ({ ...step, less: step.less + sides, most: step.most - sides })) : room;

export const atMost = (room: AvailableWidth, most: number): AvailableWidth =>
  room.map((step) => ({ ...step, most: Math.min(step.most, most) }));

const MOST_BESIDE = 8;

/** How many places beside each other fit on which screens, each at least so many rem wide. */
function counts(room: AvailableWidth, least: number, gap: number): Parting[] {
  const needs = (of: number) => of * (least + gap) - gap;
  return room.flatMap(({ from, share, less, most }, i) => {
    const until = room[i - 1]?.from ?? Infinity;
    const widthAt = (screen: number) => Math.min(screen * share - less, most);
    const first = Math.max(1, Math.floor((widthAt(from) + gap) / (least + gap)));
    const parts = [equally(from, first, gap)];
    for (let of = first + 1; of <= MOST_BESIDE && needs(of) <= most; of++) {
      const at = (needs(of) + less) / share;
      if (at >= until) break;
      parts.push(equally(at, of, gap));
    }
    return parts;
  });
}

/** As many places beside each other as fit, each at least so many rem wide. */
export const fitting = (room: AvailableWidth, least: number, gap: number): AvailableWidth =>
  parted(room, counts(room, least, gap));

/** A grid of so many columns; on smaller screens of as many as fit. */
export function gridWidth(room: AvailableWidth, columns: number, gap: number): AvailableWidth {
  const from = columns < 3 ? 48 : 60;
  return parted(room, [...counts(room, 16, gap).filter((one) => one.from < from), equally(from, columns, gap)]);
}

/** Columns beside each other: the most that there are on screens of a width up, all with one gap. */
export const columnsWidth = (
  room: AvailableWidth,
  steps: readonly { from: number; of: number }[],
  gap: number,
): AvailableWidth =>
  parted(
    room,
    steps.map(({ from, of }) => equally(from, of, gap)),
  );

/** A length in rem, where it is the same everywhere. */
function remOf(value: StyleValue | undefined): number {
  const [, figure, unit] = /^([\d.]+)(rem|px)$/.exec(String(value ?? '')) ?? [];
  return figure ? Number(figure) / (unit === 'px' ? PX : 1) : Infinity;
}

/** Where each screen but the narrowest begins, and which one it is from a width on. */
const FROMS = SCREENS.slice(0, -1).map((_, i) => (SCREEN_MOST[SCREENS[i + 1]!] + 1) / PX);
const screenAt = (from: number) => SCREENS[FROMS.findIndex((at) => from >= at)] ?? 'narrow';

/** What an element's own looks leave of the room it stands in. */
export function availableWidthWith(room: AvailableWidth, style: Style | undefined): AvailableWidth {
  if (!style) return room;
  const said = ['width', 'maxWidth'].some((name) => SCREENS.some((screen) => style[screen]?.[name] !== undefined));
  if (!said) return room;
  return changed(room, FROMS, (step) => {
    const at = (name: string) => styleAt(style, name, screenAt(step.from))?.value;
    const share = shareOf(String(at('width'))) ?? 1;
    const most = Math.min(...['width', 'maxWidth'].map((name) => remOf(at(name))));
    return { ...step, share: step.share * share, less: step.less * share, most: Math.min(step.most * share, most) };
  });
}

/** What its own padding leaves for what stands in an element. */
export function insideOf(room: AvailableWidth, style: Style | undefined): AvailableWidth {
  if (!style || !SCREENS.some((screen) => style[screen]?.padding ?? style[screen]?.paddingInline)) return room;
  return changed(room, FROMS, (step) => {
    const at = (name: string) => styleAt(style, name, screenAt(step.from))?.value;
    const value = at('paddingInline') ?? at('padding');
    const rem = SPACES[String(value)] ?? remOf(value);
    const sides = Number.isFinite(rem) ? rem * 2 : 0;
    return { ...step, less: step.less + sides, most: step.most - sides };
  });
}

/** The widest it gets, in rem. */
export const widestOf = (room: AvailableWidth): number => Math.max(...room.map(({ most }) => most));

/** How many such places fit beside each other in a page on the widest screens; at most four. */
export const acrossOf = (room: AvailableWidth): number =>
  Math.min(4, Math.max(1, Math.round(1 / (room[0]?.share ?? 1))));

const figure = (n: number): string => String(Math.round(n * 100) / 100);

/**
 * The room as a `sizes` attribute (HTML Standard, 4.8.4.2.2): the first of its conditions that holds counts. A length may
 * be a sum (CSS Values, 10.1).
 */
export function sizesOf(room: AvailableWidth): string {
  const said: { from: number; width: string }[] = [];
  for (const [i, { from, share, less, most }] of room.entries()) {
    const until = room[i - 1]?.from ?? Infinity;
    const full = (most + less) / share;
    if (full < until) said.push({ from: Math.max(full, from), width: `${figure(most)}rem` });
    const part = `${figure(share * 100)}vw`;
    const sum = `calc(${part} ${less < 0 ? '+' : '-'} ${figure(Math.abs(less))}rem)`;
    if (full > from) said.push({ from, width: Math.abs(less) < 0.05 ? part : sum });
  }
  const kept = said.filter(({ width }, i) => said[i + 1]?.width !== width);
  return kept.map(({ from, width }) => (from > 0 ? `(min-width: ${figure(from)}rem) ${width}` : width)).join(', ');
}
