import type { Transaction } from 'sequelize';
import { DesignSchema, type Design } from '../../core/releases/design';
import { BUILT_IN } from '../../core/theme/theme';
import { fromJson } from '../database/connect';
import { designOf } from '../queries/releases';
import { notFound } from '../base/refusal';
import { perServer } from '../base/server';

/** What visitors see before anything is released. */
export const NOTHING: Design = { templates: [], rules: [], menus: [], theme: BUILT_IN, types: [], taxonomies: [] };

/** Releases do not change, so that each is read once. */
const designs = perServer(() => new Map<number, Design>());

/** The design of a release; 0 is the one before any. */
export async function readRelease(id: number, transaction?: Transaction): Promise<Design> {
  if (!id) return NOTHING;
  const known = designs();
  const kept = known.get(id);
  if (kept) return kept;
  const found = await designOf(id, transaction);
  if (found === undefined) throw notFound('release with this number');
  const design = DesignSchema.parse(fromJson(found));
  // What a transaction sees may never come true.
  if (transaction) return design;
  if (known.size > 20) known.clear();
  known.set(id, design);
  return design;
}

/** Forgets what was read: releases have been written in another form. */
export const clearReleases = (): void => designs().clear();
