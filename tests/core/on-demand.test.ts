import { expect, it } from 'vitest';
import { allLoaded, onDemand, onLoaded } from '../../src/lib/core/base/on-demand';
import { confineCss } from '../../src/lib/core/styles/confine';
import { confineCss as confineLater, unknownVariables } from '../../src/lib/core/styles/own-css.browser';
import { parsePhoneNumber as parseLater } from '../../src/lib/core/formats/phone-numbers.browser';

it('loads once, when it is first needed, and calls whoever draws', async () => {
  let loads = 0;
  let calls = 0;
  onLoaded(() => calls++);
  const get = onDemand(() => Promise.resolve(++loads));
  expect(await allLoaded()).toBe(false);
  expect([get(), get(), loads]).toEqual([undefined, undefined, 1]);
  expect(await allLoaded()).toBe(true);
  expect([get(), loads, calls]).toEqual([1, 1, 1]);
  expect(await allLoaded()).toBe(false);
});

it('tells of a failure, and tries again at the next need', async () => {
  let fails = true;
  const get = onDemand(() => (fails ? Promise.reject(new Error('away')) : Promise.resolve('here')));
  expect(get()).toBeUndefined();
  await expect(allLoaded()).rejects.toThrow('away');
  fails = false;
  expect(get()).toBeUndefined();
  await allLoaded();
  expect(get()).toBe('here');
});

it('comes to what the server says, once it has come', async () => {
  const css = 'h2 { color: var(--nothing) } body { margin: 0 }';
  expect(confineLater(css, 'c')).toEqual({ css: '', problems: [] });
  expect(unknownVariables(css, [])).toEqual([]);
  expect(parseLater('01632 960001', 'GB')).toBeUndefined();
  await allLoaded();
  expect(confineLater(css, 'c')).toEqual(confineCss(css, 'c'));
  expect(unknownVariables(css, [])).toHaveLength(1);
  expect(parseLater('01632 960001', 'GB')?.number).toBe('+441632960001');
});
