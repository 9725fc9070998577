import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalJustifyCenter,
  AlignHorizontalJustifyEnd,
  AlignHorizontalJustifyStart,
  AlignHorizontalSpaceBetween,
  AlignStartHorizontal,
  AlignStartVertical,
  Baseline,
  CaseLower,
  CaseSensitive,
  CaseUpper,
  Italic,
  Strikethrough,
  StretchHorizontal,
  StretchVertical,
  TextAlignCenter,
  TextAlignEnd,
  TextAlignStart,
  Type,
  Underline,
} from '@lucide/svelte';
import type { Component } from 'svelte';

/** An icon, or boxes of 20 by 14: from the side, from above, width and height, the radius of corners and how strong. */
export type Drawing =
  | Component<{ size?: number }>
  | (
      | [number, number, number, number]
      | [number, number, number, number, number]
      | [number, number, number, number, number, number]
    )[];

/** Drawings of what a choice about looks comes to, by property and by value. */
export const DRAWN: Record<string, Record<string, Drawing>> = {
  text: { start: TextAlignStart, center: TextAlignCenter, end: TextAlignEnd },
  across: {
    start: AlignStartVertical,
    center: AlignCenterVertical,
    end: AlignEndVertical,
    stretch: StretchVertical,
  },
  items: {
    start: AlignStartHorizontal,
    center: AlignCenterHorizontal,
    end: AlignEndHorizontal,
    stretch: StretchHorizontal,
    baseline: Baseline,
  },
  spread: {
    start: AlignHorizontalJustifyStart,
    center: AlignHorizontalJustifyCenter,
    end: AlignHorizontalJustifyEnd,
    'space-between': AlignHorizontalSpaceBetween,
  },
  slope: { normal: Type, italic: Italic },
  letters: { none: CaseSensitive, uppercase: CaseUpper, lowercase: CaseLower },
  underline: { underline: Underline, 'line-through': Strikethrough },
};

const tint = (strength: number): Drawing => [
  [1, 1, 18, 12, 1, 0.15 + strength],
  [4, 4, 12, 2],
  [4, 8, 7, 2],
];
const ROW: Drawing = [
  [0, 2, 6, 10],
  [7, 2, 6, 10],
  [14, 2, 6, 10],
];
const STACK: Drawing = [
  [2, 0, 16, 4],
  [2, 5, 16, 4],
  [2, 10, 16, 4],
];
const GRID: Drawing = [
  [1, 0, 8, 6],
  [11, 0, 8, 6],
  [1, 8, 8, 6],
  [11, 8, 8, 6],
];

/** Drawings of what an option of an element comes to, by its name and by value. */
export const OPTIONS_DRAWN: Record<string, Record<string, Drawing>> = {
  inner: {
    narrow: [[5, 1, 10, 12]],
    text: [[7, 1, 6, 12]],
    page: [[3, 1, 14, 12]],
    full: [[0, 1, 20, 12]],
  },
  tint: { light: tint(0.1), dark: tint(0.35), deep: tint(0.6) },
  flow: {
    stack: STACK,
    row: ROW,
    grid: GRID,
    overlay: [
      [1, 0, 18, 14, 1, 0.35],
      [9, 6, 8, 6],
    ],
  },
  arrange: {
    grid: GRID,
    list: STACK,
    row: ROW,
    masonry: [
      [1, 0, 8, 9],
      [11, 0, 8, 4],
      [1, 10.5, 8, 3.5],
      [11, 5.5, 8, 8.5],
    ],
    sideways: [
      [0, 2, 7, 10],
      [8.5, 2, 7, 10],
      [17, 2, 3, 10, 0.5, 0.4],
    ],
    table: [
      [0, 0, 20, 3],
      [0, 5, 9, 1.5],
      [11, 5, 9, 1.5],
      [0, 8.5, 9, 1.5],
      [11, 8.5, 9, 1.5],
      [0, 12, 9, 1.5],
      [11, 12, 9, 1.5],
    ],
  },
  share: {
    equal: ROW,
    'wide-first': [
      [0, 2, 12, 10],
      [13.5, 2, 6.5, 10],
    ],
    'wide-last': [
      [0, 2, 6.5, 10],
      [8, 2, 12, 10],
    ],
    facts: GRID,
  },
  shape: {
    wide: [[0, 3, 20, 8]],
    landscape: [[1.5, 1, 17, 12]],
    square: [[4, 1, 12, 12]],
    tall: [[5.5, 1, 9, 12]],
    round: [[4, 1, 12, 12, 6]],
  },
};

/** So many letters of choices still read at a glance beside each other. */
const AT_A_GLANCE = 56;

/** Whether an option's choices are seen beside each other, and not unfolded. */
export const atAGlance = (name: string, options: { value: string | number; label: string }[]): boolean =>
  options.reduce((sum, { value, label }) => sum + (OPTIONS_DRAWN[name]?.[value] ? 4 : label.length + 2), 0) <=
  AT_A_GLANCE;

/** What a length says, in words: of what it is a share, and how many pixels it is where that is the same everywhere. */
export function lengthWords(text: string, property: string): string {
  const [, figure, unit] = /^(-?[\d.]+)(px|rem|em|ch|%|vw|vh|lh)?$/.exec(text) ?? [];
  if (figure === undefined) return '';
  switch (unit) {
    case 'rem':
      return `${Math.round(Number(figure) * 16 * 10) / 10} px, and larger for whoever reads larger`;
    case '%':
      return property === 'radius'
        ? 'of its own width and height'
        : property === 'size'
          ? 'of the text around it'
          : property === 'minHeight'
            ? 'of the height of what it stands in'
            : 'of the width of what it stands in';
    case 'em':
      return 'times its text';
    case 'ch':
      return 'figures of its text wide';
    case 'lh':
      return 'lines of its text';
    case 'vw':
      return 'hundredths of the screen’s width';
    case 'vh':
      return 'hundredths of the screen’s height';
    default:
      return '';
  }
}
