import type { Purpose } from '../../src/lib/core/schema/template';
import type { Target } from '../../src/lib/core/schema/target';
import type { Tree } from '../../src/lib/core/schema/element';
import { regionPage, searchPage } from './archives';
import { hutArchive, hutPage, oldHutPage } from './hut';
import { hutCard, trailCard, wardenLine } from './parts';
import { entryPage, journal, wardenList, wardenPage, weekendList } from './people';
import { all, any, filled, none, test } from './short';
import {
  authorPage,
  closedHutPage,
  filedPage,
  frontPage,
  journalFrame,
  missingPage,
  plainPage,
  siteFrame,
  weekendPage,
} from './site';
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

/** The menus of the demo world; `record` is a page by its title. */
export const menus = [
  {
    id: 'main',
    name: 'Main menu',
    entries: [
      { id: 'huts', leads: { to: 'type', typeId: 'hut' } },
      { id: 'trails', leads: { to: 'type', typeId: 'trail' } },
      { id: 'valleys', label: 'Valleys', leads: { to: 'term', termId: 'upper-vale' } },
      { id: 'wardens', leads: { to: 'type', typeId: 'warden' } },
      { id: 'weekends', leads: { to: 'type', typeId: 'weekend' } },
      { id: 'journal', label: 'Journal', leads: { to: 'type', typeId: 'entry' } },
    ],
  },
  {
    id: 'foot',
    name: 'At the foot',
    entries: ['About the society', 'Visit', 'Kitchen rules', 'Contact'].map((record, i) => ({
      id: `page-${i + 1}`,
      record,
    })),
  },
];

/** What the records of each type are to programs, and how their addresses are made where not from their base. */
export const typeDesigns: Record<string, object> = {
  hut: {
    structured: {
      is: 'LodgingBusiness',
      properties: [
        { property: 'image', path: { from: 'record', steps: ['hut_picture'] } },
        { property: 'description', path: { from: 'record', steps: ['@excerpt'] } },
        { property: 'geo', path: { from: 'record', steps: ['hut_place'] } },
        { property: 'telephone', path: { from: 'record', steps: ['hut_phone'] } },
      ],
    },
  },
  entry: {
    address: '/journal/{year}/{slug}',
    structured: {
      is: 'BlogPosting',
      properties: [
        { property: 'headline', path: { from: 'record', steps: ['@title'] } },
        { property: 'image', path: { from: 'record', steps: ['entry_picture'] } },
        { property: 'datePublished', path: { from: 'record', steps: ['@published'] } },
        { property: 'about', path: { from: 'record', steps: ['entry_huts'] } },
        { property: 'keywords', path: { from: 'record', steps: ['@terms:topic'] } },
      ],
    },
  },
  warden: {
    structured: {
      is: 'Person',
      properties: [{ property: 'image', path: { from: 'record', steps: ['warden_portrait'] } }],
    },
  },
  weekend: {
    structured: {
      is: 'Event',
      properties: [
        { property: 'startDate', path: { from: 'record', steps: ['weekend_starts'] } },
        { property: 'endDate', path: { from: 'record', steps: ['weekend_ends'] } },
        { property: 'location', path: { from: 'record', steps: ['weekend_hut'] } },
      ],
    },
  },
  page: { address: '/{slug}', structured: { is: 'WebPage', properties: [] } },
};

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
  { id: 'site-frame', name: 'Frame', purpose: 'frame', serves: [], tree: siteFrame() },
  {
    id: 'journal-frame',
    name: 'Frame of the journal',
    purpose: 'frame',
    serves: [
      { on: 'type', typeId: 'entry' },
      { on: 'dates', typeId: 'entry' },
      { on: 'taxonomy', taxonomyId: 'topic' },
    ],
    tree: journalFrame(),
  },
  { id: 'front-page', name: 'Front page', purpose: 'archive', serves: [{ on: 'front' }], tree: frontPage() },
  { id: 'missing-page', name: 'No page here', purpose: 'archive', serves: [{ on: 'missing' }], tree: missingPage() },
  { id: 'plain-page', name: 'Plain page', purpose: 'record', typeId: 'page', tree: plainPage() },
  { id: 'weekend-page', name: 'Work weekend', purpose: 'record', typeId: 'weekend', tree: weekendPage() },
  {
    id: 'filed-page',
    name: 'Filed under',
    purpose: 'archive',
    serves: [
      { on: 'taxonomy', taxonomyId: 'facility' },
      { on: 'taxonomy', taxonomyId: 'topic' },
    ],
    tree: filedPage(),
  },
  { id: 'author-page', name: 'Author', purpose: 'archive', serves: [{ on: 'authors' }], tree: authorPage() },
  {
    id: 'hut-closed',
    name: 'Hut that is closed',
    purpose: 'record',
    serves: [{ on: 'rule', typeId: 'hut', rule: all(test('choice.is', 'record', ['hut_state'], 'closed')) }],
    tree: closedHutPage(),
  },
];
