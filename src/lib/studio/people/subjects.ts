/** Where in the studio something is that the activity tells of, such as `record 12`; undefined where it has no place of its own. */
export function placeOfSubject(subject: string | null): string | undefined {
  const [kind, id = ''] = subject?.split(' ') ?? [];
  const at = encodeURIComponent(id);
  switch (kind) {
    case 'record':
      return `/studio/records/${at}`;
    case 'template':
      return `/studio/workbench/${at}`;
    case 'type':
      return `/studio/content/${at}`;
    case 'taxonomy':
      return `/studio/terms/${at}`;
    case 'author':
      return '/studio/authors';
    case 'media':
      return '/studio/library';
    case 'menu':
      return '/studio/menus';
    case 'rule':
      return '/studio/rules';
    case 'release':
      return '/studio/release';
    case 'account':
      return '/studio/people';
    default:
      return undefined;
  }
}
