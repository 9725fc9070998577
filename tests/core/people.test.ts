import { describe, expect, it } from 'vitest';
import { passwordProblem } from '../../src/lib/core/people/passwords';
import { atLeast, ROLES } from '../../src/lib/core/people/roles';
import { neededAt, SCREENS, screensFor } from '../../src/lib/core/people/screens';

const none = () => false;

describe('passwords', () => {
  it('have 8 to 128 characters, whatever they are (NIST SP 800-63B-4, 3.1.1.2, from memory)', () => {
    expect(passwordProblem('1234567', none)).toMatchObject({ at: 'password', what: 'It has 7 characters.' });
    for (const fine of [
      '12345678',
      'aaaa aaab',
      '🙂🙃🙂🙃🙂🙃🙂🙃',
      'über alle berge',
      'x'.repeat(127) + 'y',
      '        z',
    ])
      expect([fine, passwordProblem(fine, none)]).toEqual([fine, undefined]);
    expect(passwordProblem('x'.repeat(128) + 'y', none)).toMatchObject({ what: 'It has 129 characters.' });
    // Characters are counted, not what they take in memory.
    expect(passwordProblem('🙂'.repeat(7), none)).toMatchObject({ what: 'It has 7 characters.' });
    expect(passwordProblem('🙂🙃'.repeat(64), none)).toBeUndefined();
  });

  it('are not among those that are tried first, in whatever case, and not the account’s own words', () => {
    const common = (word: string) => word === 'password1';
    expect(passwordProblem('PassWord1', common)?.what).toContain('tried first');
    expect(passwordProblem('ｐａｓｓｗｏｒｄ1', common)?.what).toContain('tried first');
    expect(passwordProblem('zzzzzzzzzz', none)?.what).toContain('over and over');
    expect(passwordProblem('Mara@huts.example', none, ['mara@huts.example'])?.what).toContain('the address');
  });
});

describe('screens', () => {
  it('ask for the role of the nearest one', () => {
    for (const [path, role] of [
      ['/studio', 'reader'],
      ['/studio/content/hut', 'reader'],
      ['/studio/content/new', 'designer'],
      ['/studio/content/hut/fields', 'designer'],
      ['/studio/content/hut/files', 'editor'],
      ['/studio/content/hut/new', 'author'],
      ['/studio/content/hut/12', 'reader'],
      ['/studio/people', 'owner'],
      ['/studio/people/', 'owner'],
      ['/studio/people/anything/below', 'owner'],
      ['/studio/nowhere', 'reader'],
    ])
      expect([path, neededAt(path!)]).toEqual([path, role]);
  });

  it('stand in the bar for whoever may see them', () => {
    for (const role of ROLES)
      for (const { label, who, at } of SCREENS)
        if (label)
          expect([role, at, screensFor(role).some((one) => one.at === at)]).toEqual([role, at, atLeast(role, who)]);
  });
});
