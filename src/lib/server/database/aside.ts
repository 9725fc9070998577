import { AsyncLocalStorage } from 'node:async_hooks';
import type { Sequelize } from 'sequelize';

const aside = new AsyncLocalStorage<Sequelize>();

/** The copy of the database that is read just now in place of the database itself; see `replicas.ts`. */
export const asideNow = (): Sequelize | undefined => aside.getStore();

/** Reads from a copy whatever is read in `body` outside of transactions. */
export const readingFrom = <T>(copy: Sequelize, body: () => Promise<T>): Promise<T> => aside.run(copy, body);
