import { atLeast, type Role } from './roles';

/** A screen of the studio: where it is, what it is called in the bar, and the role that is needed to see it. */
export interface Screen {
  at: string;
  who: Role;
  /** Its name in the bar; others are reached from their own places. */
  label?: string;
}

/** Every screen with what lies below it; the nearest one counts. `*` stands for one part of an address. */
export const SCREENS: readonly Screen[] = [
  { at: '/studio', who: 'reader', label: 'Desk' },
  { at: '/studio/content', who: 'reader', label: 'Content' },
  { at: '/studio/content/new', who: 'designer' },
  { at: '/studio/content/*/fields', who: 'designer' },
  { at: '/studio/content/*/files', who: 'editor' },
  { at: '/studio/content/*/new', who: 'author' },
  { at: '/studio/rules', who: 'reader', label: 'Rules' },
  { at: '/studio/serves', who: 'reader', label: 'Serves' },
  { at: '/studio/menus', who: 'reader', label: 'Menus' },
  { at: '/studio/theme', who: 'reader', label: 'Theme' },
  { at: '/studio/release', who: 'reader', label: 'Release' },
  { at: '/studio/site', who: 'reader', label: 'Published' },
  { at: '/studio/library', who: 'reader', label: 'Library' },
  { at: '/studio/terms', who: 'reader', label: 'Terms' },
  { at: '/studio/authors', who: 'reader', label: 'Authors' },
  { at: '/studio/removed', who: 'editor', label: 'Removed' },
  { at: '/studio/activity', who: 'editor', label: 'Activity' },
  { at: '/studio/people', who: 'owner', label: 'People' },
  { at: '/studio/account', who: 'reader' },
  { at: '/studio/records', who: 'reader' },
  { at: '/studio/sign-out', who: 'reader' },
  { at: '/studio/preview', who: 'reader' },
  { at: '/studio/workbench', who: 'reader' },
];

const fits = (screen: string, path: string): boolean => {
  const [wanted, given] = [screen.split('/'), path.split('/')];
  return wanted.length <= given.length && wanted.every((part, i) => part === '*' || part === given[i]);
};

/** The role that is needed at an address of the studio: that of the nearest screen. */
export const neededAt = (path: string): Role =>
  SCREENS.reduce((near, one) => (fits(one.at, path) && one.at.length > near.at.length ? one : near)).who;

/** The screens of the bar that somebody may see. */
export const screensFor = (role: Role): Screen[] => SCREENS.filter((one) => one.label && atLeast(role, one.who));
