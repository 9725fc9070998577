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

/** Drawings of what a choice about looks comes to, by property and by value. */
export const DRAWN: Record<string, Record<string, Component<{ size?: number }>>> = {
  text: { start: TextAlignStart, center: TextAlignCenter, end: TextAlignEnd },
  across: {
    ...{ start: AlignStartVertical, center: AlignCenterVertical, end: AlignEndVertical },
    stretch: StretchVertical,
  },
  items: {
    ...{ start: AlignStartHorizontal, center: AlignCenterHorizontal, end: AlignEndHorizontal },
    ...{ stretch: StretchHorizontal, baseline: Baseline },
  },
  spread: {
    ...{ start: AlignHorizontalJustifyStart, center: AlignHorizontalJustifyCenter, end: AlignHorizontalJustifyEnd },
    'space-between': AlignHorizontalSpaceBetween,
  },
  slope: { normal: Type, italic: Italic },
  letters: { none: CaseSensitive, uppercase: CaseUpper, lowercase: CaseLower },
  underline: { underline: Underline, 'line-through': Strikethrough },
};

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
