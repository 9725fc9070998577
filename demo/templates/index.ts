import type { Purpose, Target, Tree } from '../../src/lib/core/templates/template';
import { regionPage, searchPage } from './archives';
import { hutArchive, hutPage, oldHutPage } from './hut';
import { hutCard, trailCard, wardenLine } from './parts';
import { entryPage, journal, wardenList, wardenPage, weekendList } from './people';
import { any, filled, none, test } from './short';
import { trailArchive, trailPage } from './trail';

/** Rules that several templates ask by their names. */
export const keptRules = [
  {
    name: 'Not to be missed',
    typeId: 'hut',
    rule: any(filled('hut_warning'), test('choice.is', 'record', ['hut_state'], 'closed')),
  },
  {
    name: 'Not simply open',
    typeId: 'hut',
    rule: none(test('choice.is', 'record', ['hut_state'], 'open')),
  },
];

/** The templates of the demo world, in the order in which they are made: parts before what they stand in. */
export const templates: {
  id: string;
  name: string;
  purpose: Purpose;
  typeId?: string;
  serves?: Target[];
  tree: Tree;
}[] = [
  { id: 'trail-card', name: 'Trail card', purpose: 'part', typeId: 'trail', tree: trailCard() },
  { id: 'hut-card', name: 'Hut card', purpose: 'part', typeId: 'hut', tree: hutCard() },
  { id: 'warden-line', name: 'Warden in a line', purpose: 'part', typeId: 'warden', tree: wardenLine() },
  { id: 'hut-page', name: 'Hut page', purpose: 'record', typeId: 'hut', tree: hutPage() },
  { id: 'hut-list', name: 'All huts', purpose: 'archive', typeId: 'hut', tree: hutArchive() },
  { id: 'hut-page-old', name: 'Hut page, first try', purpose: 'record', typeId: 'hut', tree: oldHutPage() },
  { id: 'trail-list', name: 'All trails', purpose: 'archive', typeId: 'trail', tree: trailArchive() },
  { id: 'warden-page', name: 'Warden page', purpose: 'record', typeId: 'warden', tree: wardenPage() },
  { id: 'trail-page', name: 'Trail page', purpose: 'record', typeId: 'trail', tree: trailPage() },
  { id: 'warden-list', name: 'All wardens', purpose: 'archive', typeId: 'warden', tree: wardenList() },
  { id: 'journal', name: 'Journal', purpose: 'archive', typeId: 'entry', tree: journal() },
  { id: 'weekends', name: 'Work weekends', purpose: 'archive', typeId: 'weekend', tree: weekendList() },
  {
    id: 'region-page',
    name: 'A valley',
    purpose: 'archive',
    serves: [{ on: 'taxonomy', taxonomyId: 'region' }],
    tree: regionPage(),
  },
  { id: 'search-page', name: 'Search', purpose: 'archive', serves: [{ on: 'search' }], tree: searchPage() },
  { id: 'entry-page', name: 'Story', purpose: 'record', typeId: 'entry', tree: entryPage() },
];
