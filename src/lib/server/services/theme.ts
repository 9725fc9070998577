import { z } from 'zod';
import type { Transaction } from 'sequelize';
import { lookProblems, tokensIn } from '../../core/styles/style';
import { BUILT_IN, completeTheme } from '../../core/theme/theme';
import { ThemeSchema, type Theme } from '../../core/schema/theme';
import { inTransaction } from '../database/connect';
import { putTheme, themeRow } from '../queries/design';
import { lockSite } from '../queries/site';
import { Refusal } from '../base/refusal';
import { readTemplates } from './templates';

export interface StoredTheme {
  theme: Theme;
  /** Counts up with every change; 0 where nothing was ever changed. */
  version: number;
}

/** The theme as it stands; the built-in one until somebody changes it. */
export async function readTheme(transaction?: Transaction): Promise<StoredTheme> {
  const row = await themeRow(transaction);
  return row
    ? { theme: completeTheme(ThemeSchema.parse(row.tokens)), version: row.version }
    : { theme: BUILT_IN, version: 0 };
}

export const StoredThemeSchema = z.object({ theme: ThemeSchema, version: z.number().int() });

/** Puts a theme in the place of what is kept. With a stale `version` nothing is written. */
export async function saveTheme(input: z.output<typeof StoredThemeSchema>): Promise<StoredTheme> {
  const theme = completeTheme(input.theme);
  const wrong = lookProblems(theme.looks);
  if (wrong.length) throw new Refusal(422, 'The theme cannot be read.', wrong);
  return inTransaction(
    async (transaction) => {
      // Before the first saving there is no row of the theme to wait for.
      await lockSite(transaction);
      const version = (await themeRow(transaction))?.version ?? 0;
      if (input.version !== version)
        throw new Refusal(
          409,
          'The theme has been changed elsewhere since it was opened here. Nothing was overwritten.',
          [],
          { version },
        );
      await putTheme(theme, version + 1, transaction);
      return { theme, version: version + 1 };
    },
    { writes: 'nothing' },
  );
}

/**
 * How often each token stands in the looks of elements, by `group-key`, and each named look on one, by `look-key`: the
 * templates, with the number of elements.
 */
export async function tokenUses(): Promise<Record<string, { template: string; elements: number }[]>> {
  const uses: Record<string, { template: string; elements: number }[]> = {};
  for (const { name, tree } of await readTemplates()) {
    const counts = new Map<string, number>();
    const count = (one: string) => counts.set(one, (counts.get(one) ?? 0) + 1);
    for (const { style, look } of Object.values(tree.elements)) {
      if (style) for (const token of new Set(tokensIn(style))) count(token);
      if (look) count(`look-${look}`);
    }
    for (const [token, elements] of counts) (uses[token] ??= []).push({ template: name, elements });
  }
  return uses;
}
