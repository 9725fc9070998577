import { escapeHtml } from '../base/text';
import type { Site } from '../schema/model';
import type { Theme } from '../schema/theme';
import { BUILT_IN } from './theme';
import { inkOn } from './contrast';

/** Where the site's own icon is. */
export const ICON_ADDRESS = '/styles/icon.svg';

/** The first letter of a site's name on its deep colour, as SVG: what stands for it in tabs and lists of favourites. */
export function siteIcon({ name, locale }: Pick<Site, 'name' | 'locale'>, theme: Theme): string {
  const [first] = new Intl.Segmenter(locale).segment(name.trim());
  const letter = escapeHtml((first?.segment ?? '').toLocaleUpperCase(locale));
  const colourOf = (key: string) => [theme, BUILT_IN].flatMap(({ colour }) => colour).find((one) => one.key === key);
  const ground = (colourOf('deep') ?? colourOf('accent'))?.value ?? '#333333';
  return (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 64">' +
    `<rect width="64" height="64" rx="12" fill="${ground}"/>` +
    `<text x="32" y="32" dy=".36em" text-anchor="middle" font-family="Georgia,serif" font-size="42" fill="${inkOn(ground)}">${letter}</text></svg>\n`
  );
}
