import { describe, expect, it } from 'vitest';
import { treeFrom } from '../../src/lib/core/templates/build';
import { applyEdit, type TreeOperation } from '../../src/lib/core/templates/edits';
import { BUILT_IN as SHIPPED } from '../../src/lib/core/theme/theme';
import type { Theme } from '../../src/lib/core/schema/theme';
import { NamedLooks } from '../../src/lib/studio/workbench/state/named-looks.svelte';
import { createApi, type Transport } from '../../src/lib/client/api';
import { RequestFailed } from '../../src/lib/studio/base/request';

/** The theme that ships, without its looks. */
const BUILT_IN: Theme = { ...SHIPPED, looks: [] };

/** A workbench with one button that has looks, and a server that keeps a theme and counts its versions. */
function house(refuse = 0) {
  const tree = treeFrom({
    kind: 'box',
    children: [
      { id: 'one', kind: 'button', style: { wide: { ground: 'deep', radius: 'round' }, narrow: { radius: 's' } } },
      { id: 'two', kind: 'button', style: { wide: { ground: 'tint' } } },
    ],
  });
  const host = {
    theme: BUILT_IN,
    tree,
    nameOf: (id: string) => id,
    labels: [] as string[],
    edit(label: string, ...operations: TreeOperation[]) {
      const done = applyEdit(host.tree, { label, operations });
      if (done.ok) host.tree = done.value.tree;
      host.labels.push(label);
      return done.ok;
    },
  };
  const server = { theme: { ...BUILT_IN } as Theme, version: 3, puts: 0 };
  const send = ((method: string, _path: string, body?: unknown) => {
    if (method === 'GET') return Promise.resolve({ theme: server.theme, version: server.version });
    server.puts++;
    if (refuse-- > 0) {
      server.version++;
      return Promise.reject(new RequestFailed('Changed elsewhere.', 409));
    }
    server.theme = (body as { theme: Theme }).theme;
    return Promise.resolve({ version: ++server.version });
  }) as Transport;
  return { host, server, looks: new NamedLooks(host, createApi(send)) };
}

describe('a named look', () => {
  it('is kept from an element, which has it by its name from then on', async () => {
    const { host, server, looks } = house();
    looks.keep('one', ' Pill ');
    await looks.settled();
    expect(host.tree.elements.one).toMatchObject({ look: 'pill' });
    expect(host.tree.elements.one).not.toHaveProperty('style');
    expect(server.theme.looks).toEqual([
      {
        key: 'pill',
        name: 'Pill',
        kind: 'button',
        style: { wide: { ground: 'deep', radius: 'round' }, narrow: { radius: 's' } },
      },
    ]);
    // Another of the same name has a key of its own, and begins with what holds of both.
    looks.put('two', 'pill');
    expect([...looks.differs(host.tree.elements.two!)]).toEqual(['ground']);
    looks.keep('two', 'Pill');
    await looks.settled();
    expect(server.theme.looks.map(({ key, style }) => [key, style.wide])).toEqual([
      ['pill', { ground: 'deep', radius: 'round' }],
      ['pill-2', { ground: 'tint', radius: 'round' }],
    ]);
  });

  it('is changed for all at once, and put onto what others saved meanwhile', async () => {
    const { host, server, looks } = house(2);
    looks.keep('one', 'Pill');
    server.theme = { ...server.theme, looks: [{ key: 'other', name: 'Other', kind: 'text', style: {} }] };
    looks.change('pill', { wide: { ground: 'accent' }, narrow: {} });
    expect(host.theme.looks[0]!.style).toEqual({ wide: { ground: 'accent' } });
    await looks.settled();
    expect(server.theme.looks.map(({ key, style }) => [key, style])).toEqual([
      ['other', {}],
      ['pill', { wide: { ground: 'accent' } }],
    ]);
    expect(looks.failed).toBe('');
    // Taken back, one change after the other, and no further than they were made here.
    looks.change('pill', { wide: { ground: 'tint' } });
    looks.editing = 'other';
    expect(looks.changed).toBe(false);
    looks.editing = 'pill';
    looks.takeBack();
    expect(host.theme.looks[0]!.style).toEqual({ wide: { ground: 'accent' } });
    looks.takeBack();
    looks.takeBack();
    await looks.settled();
    expect(server.theme.looks.at(-1)!.style).toEqual({
      wide: { ground: 'deep', radius: 'round' },
      narrow: { radius: 's' },
    });
    expect(looks.changed).toBe(false);
  });

  it('says why it was not kept', async () => {
    const { looks } = house(99);
    looks.keep('one', 'Pill');
    await looks.settled();
    expect(looks.failed).toContain('Changed elsewhere');
  });

  it('is taken apart into looks of the element’s own', () => {
    const { host, looks } = house();
    looks.keep('one', 'Pill');
    host.edit('Set', { do: 'put', id: 'one', at: ['style'], value: { wide: { ground: 'tint' } } });
    looks.apart('one');
    expect(host.tree.elements.one).not.toHaveProperty('look');
    expect(host.tree.elements.one!.style).toEqual({
      wide: { ground: 'tint', radius: 'round' },
      narrow: { radius: 's' },
    });
  });
});
