import { SCREENS, type Style, type StyleValue } from '../schema/style';
import { shareOf } from './properties';
import { SCREEN_MOST, styleAt } from './style';

/** How wide a place is on screens from `from` up: a share of the screen, and at most so much. Lengths in rem of 16 px. */
export interface RoomStep {
  from: number;
  share: number;
  most: number;
}
/** The room of a place on every screen, the widest screens first; the last begins at 0. */
export type Room = readonly RoomStep[];

const PX = 16;
/** What stands in a page as wide as the page. */
export const PAGE_ROOM: Room = [{ from: 0, share: 1, most: 73 }];
/** Gaps as the built-in theme has them. */
export const GAPS = { none: 0, s: 0.5, m: 1, l: 2 };
/** From edge to edge. */
export const SCREEN_ROOM: Room = [{ from: 0, share: 1, most: Infinity }];

/** Whether it is as wide as the page; what is beside something else is not. */
export const isPageWide = (room: Room): boolean => room.every(({ share }) => share === 1);

/** The room as something else from each of some screens on; steps of both stay. */
function changed(room: Room, froms: readonly number[], change: (step: RoomStep) => RoomStep): Room {
  const all = [...new Set([...room.map(({ from }) => from), ...froms])].sort((a, b) => b - a);
  return all.map((from) => change({ ...(room.find((step) => step.from <= from) as RoomStep), from }));
}

/** A room of which one place has a part: `parts` says for screens from a width up how many times less it is. */
export const parted = (room: Room, parts: readonly { from: number; of: number }[]): Room =>
  changed(
    room,
    parts.map(({ from }) => from),
    (step) => {
      const of = [...parts].sort((a, b) => b.from - a.from).find(({ from }) => from <= step.from)?.of ?? 1;
      return { ...step, share: step.share / of, most: step.most / of };
    },
  );

export const atMost = (room: Room, most: number): Room =>
  room.map((step) => ({ ...step, most: Math.min(step.most, most) }));

/** What the page keeps free at both its sides together. */
const SIDES = 3;
const MOST_BESIDE = 8;

/** How many places beside each other fit on which screens, each at least so many rem wide. */
function counts(room: Room, least: number, gap: number): { from: number; of: number }[] {
  const needs = (of: number) => of * (least + gap) - gap;
  return room.flatMap(({ from, share, most }, i) => {
    const until = room[i - 1]?.from ?? Infinity;
    const widthAt = (screen: number) => Math.min((screen - SIDES) * share, most);
    const first = Math.max(1, Math.floor((widthAt(from) + gap) / (least + gap)));
    const parts = [{ from, of: first }];
    for (let of = first + 1; of <= MOST_BESIDE && needs(of) <= most; of++) {
      const at = needs(of) / share + SIDES;
      if (at >= until) break;
      parts.push({ from: at, of });
    }
    return parts;
  });
}

/** As many places beside each other as fit, each at least so many rem wide. */
export const fitting = (room: Room, least: number, gap: number): Room => parted(room, counts(room, least, gap));

/** A grid of so many columns; on smaller screens of as many as fit. */
export function gridRoom(room: Room, columns: number, gap: number): Room {
  const from = columns < 3 ? 48 : 60;
  return parted(room, [...counts(room, 16, gap).filter((one) => one.from < from), { from, of: columns }]);
}

/** A length in rem, where it is the same everywhere. */
function remOf(value: StyleValue | undefined): number {
  const [, figure, unit] = /^([\d.]+)(rem|px)$/.exec(String(value ?? '')) ?? [];
  return figure ? Number(figure) / (unit === 'px' ? PX : 1) : Infinity;
}

/** What an element's own looks leave of the room it stands in. */
export function roomWith(room: Room, style: Style | undefined): Room {
  if (!style) return room;
  const froms = SCREENS.slice(0, -1).map((_, i) => (SCREEN_MOST[SCREENS[i + 1]!] + 1) / PX);
  const screenFrom = (from: number) => SCREENS[froms.findIndex((at) => from >= at)] ?? 'narrow';
  const said = ['width', 'maxWidth'].some((name) => SCREENS.some((screen) => style[screen]?.[name] !== undefined));
  if (!said) return room;
  return changed(room, froms, (step) => {
    const at = (name: string) => styleAt(style, name, screenFrom(step.from))?.value;
    const share = shareOf(String(at('width'))) ?? 1;
    const most = Math.min(...['width', 'maxWidth'].map((name) => remOf(at(name))));
    return { ...step, share: step.share * share, most: Math.min(step.most * share, most) };
  });
}

/** The widest it gets, in rem. */
export const widestOf = (room: Room): number => Math.max(...room.map(({ most }) => most));

const figure = (n: number): string => String(Math.round(n * 100) / 100);

/** The room as a `sizes` attribute (HTML Standard, 4.8.4.2.2): the first of its conditions that holds counts. */
export function sizesOf(room: Room): string {
  const said: { from: number; width: string }[] = [];
  for (const [i, { from, share, most }] of room.entries()) {
    const until = room[i - 1]?.from ?? Infinity;
    const full = most / share;
    if (full < until) said.push({ from: Math.max(full, from), width: `${figure(most)}rem` });
    if (full > from) said.push({ from, width: `${figure(share * 100)}vw` });
  }
  const kept = said.filter(({ width }, i) => said[i + 1]?.width !== width);
  return kept.map(({ from, width }) => (from > 0 ? `(min-width: ${figure(from)}rem) ${width}` : width)).join(', ');
}
