import { describe, expect, it } from 'vitest';
import { headingOrder } from '../../src/lib/core/checks/headings';
import { looseEndsOf } from '../../src/lib/core/checks/loose-ends';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { index } from '../support/world';

const headings = (...levels: number[]) =>
  treeFrom({ kind: 'box', children: levels.map((level) => ({ kind: 'heading', props: { level } })) });
const told = (...levels: number[]) => headingOrder(headings(...levels)).map((end) => [end.what, end.fix]);

describe('loose ends', () => {
  it('are headings that skip a level', () => {
    expect(told(1, 2, 3, 2, 3, 1)).toEqual([]);
    expect(told()).toEqual([]);
    expect(told(2)).toEqual([['The first heading of the page is of level 2.', 'Make it level 1.']]);
    expect(told(1, 2, 4, 4)).toEqual([['A heading of level 4 follows one of level 2.', 'Make it level 3.']]);
  });

  it('are threads that broke', () => {
    const tree = treeFrom({ kind: 'box', children: [{ kind: 'text', slots: { text: boundTo('record', ['gone']) } }] });
    expect(looseEndsOf({ purpose: 'record', serves: [{ on: 'type', typeId: 'house' }], tree }, index)).toHaveLength(1);
  });
});
