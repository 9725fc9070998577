/** The widths of the screen that looks are for, the widest first, and how wide each is looked at, in pixels. */
export const SCREENS = ['wide', 'medium', 'narrow'] as const;
export type Width = (typeof SCREENS)[number];
export const WIDTHS: Record<Width, number> = { wide: 1280, medium: 768, narrow: 390 };

/** One property of one box of one kind, on the element of that name. */
export interface Case {
  name: string;
  kind: string;
  box: string;
  property: string;
  /** The longhand that is read, and what it comes to at each width. */
  reads: string;
  wanted: Record<Width, string>;
  /** Where its box is in the element, as a selector; `:scope` for the element itself. */
  at: string;
  inherits: boolean;
}

export interface Cases {
  page: unknown;
  part: unknown;
  made: Case[];
  /** Looks of the page's place in the frame, and what they come to. */
  slot: { style: unknown; made: Case[] }[];
}
