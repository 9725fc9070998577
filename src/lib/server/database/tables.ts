import { DataTypes, type Model, type ModelAttributes, type ModelStatic } from 'sequelize';
import { database } from './connect';

// Sequelize writes into what it is given, so every column gets an object of its own.
const id = () => ({ type: DataTypes.STRING(40), primaryKey: true });
const words = (length: number) => ({ type: DataTypes.STRING(length), allowNull: false });
const whole = () => ({ type: DataTypes.INTEGER, allowNull: false });
const key = (type: ModelAttributes[string]) => ({ type: type as DataTypes.DataType, primaryKey: true });
const json = () => ({ type: DataTypes.JSON, allowNull: false });

const ATTRIBUTES = {
  sites: {
    id: { type: DataTypes.INTEGER, primaryKey: true },
    name: words(200),
    tagline: words(300),
    locale: words(35),
    timeZone: words(60),
    modelVersion: whole(),
    releaseId: DataTypes.INTEGER,
  },
  contentTypes: {
    id: id(),
    key: words(60),
    name: words(80),
    plural: words(80),
    base: words(60),
    description: { type: DataTypes.TEXT, allowNull: false },
    position: whole(),
    taxonomyIds: json(),
    address: DataTypes.STRING(200),
    structured: DataTypes.JSON,
  },
  fields: {
    id: id(),
    typeId: words(40),
    key: words(60),
    label: words(120),
    kind: words(40),
    help: words(500),
    required: DataTypes.BOOLEAN,
    unique: { type: DataTypes.BOOLEAN, field: 'is_unique' },
    tab: words(60),
    initial: DataTypes.JSON,
    settings: json(),
    position: whole(),
  },
  taxonomies: { id: id(), key: words(60), name: words(80), tree: DataTypes.BOOLEAN, position: whole() },
  terms: {
    id: id(),
    taxonomyId: words(40),
    parentId: DataTypes.STRING(40),
    name: words(160),
    slug: words(100),
    position: whole(),
    description: { type: DataTypes.TEXT, allowNull: false },
    pictureId: DataTypes.INTEGER,
  },
  authors: {
    id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
    name: words(160),
    slug: words(100),
    about: { type: DataTypes.TEXT, allowNull: false },
    pictureId: DataTypes.INTEGER,
  },
  media: {
    id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
    name: words(255),
    mime: words(120),
    width: whole(),
    height: whole(),
    alt: words(500),
    file: words(100),
    size: whole(),
    focalX: DataTypes.DOUBLE,
    focalY: DataTypes.DOUBLE,
    hash: DataTypes.STRING(64),
    created: DataTypes.DATE(3),
  },
  templates: {
    id: { type: DataTypes.STRING(60), primaryKey: true },
    name: words(120),
    purpose: words(20),
    serves: json(),
    except: { type: DataTypes.JSON, field: 'excepted' },
    order: whole(),
    tree: json(),
    version: whole(),
  },
  namedRules: {
    id: { type: DataTypes.STRING(60), primaryKey: true },
    name: words(120),
    typeId: words(40),
    rule: json(),
    version: whole(),
  },
  menus: {
    id: { type: DataTypes.STRING(60), primaryKey: true },
    name: words(120),
    entries: json(),
    position: whole(),
    version: whole(),
  },
  themes: {
    id: { type: DataTypes.INTEGER, primaryKey: true },
    tokens: json(),
    version: whole(),
  },
  templateVersions: {
    id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
    templateId: words(60),
    version: whole(),
    tree: json(),
    edits: json(),
    sitting: words(40),
    began: { type: DataTypes.DATE(3), allowNull: false },
    saved: { type: DataTypes.DATE(3), allowNull: false },
  },
  records: {
    id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
    typeId: words(40),
    title: words(500),
    slug: words(120),
    status: words(10),
    created: { type: DataTypes.DATE(3), allowNull: false },
    changed: { type: DataTypes.DATE(3), allowNull: false },
    published: DataTypes.DATE(3),
    values: json(),
    version: whole(),
    authorId: DataTypes.INTEGER,
    isGenerated: DataTypes.BOOLEAN,
  },
  recordIndex: {
    recordId: key(DataTypes.INTEGER),
    typeId: words(40),
    fieldId: key(DataTypes.STRING(40)),
    shown: { type: DataTypes.BOOLEAN, allowNull: false },
    part: key(DataTypes.SMALLINT),
    isEmpty: { type: DataTypes.BOOLEAN, allowNull: false },
    number: DataTypes.DOUBLE,
    text: DataTypes.TEXT('medium'),
    sort: DataTypes.STRING(191),
  },
  recordTerms: { recordId: key(DataTypes.INTEGER), termId: key(DataTypes.STRING(40)), position: whole() },
  recordWords: {
    recordId: key(DataTypes.INTEGER),
    typeId: words(40),
    fieldId: key(DataTypes.STRING(40)),
    words: { type: DataTypes.TEXT('medium'), allowNull: false },
  },
  recordCounts: {
    typeId: key(DataTypes.STRING(40)),
    status: key(DataTypes.STRING(10)),
    shard: key(DataTypes.TINYINT),
    n: whole(),
  },
  links: {
    relationId: key(DataTypes.STRING(40)),
    aId: key(DataTypes.INTEGER),
    bId: key(DataTypes.INTEGER),
    aPosition: whole(),
    bPosition: whole(),
  },
  mentions: {
    recordId: key(DataTypes.INTEGER),
    fieldId: key(DataTypes.STRING(40)),
    target: key(DataTypes.STRING(6)),
    targetId: key(DataTypes.INTEGER),
  },
  uniqueValues: {
    fieldId: key(DataTypes.STRING(40)),
    valueKey: key(DataTypes.CHAR(64)),
    recordId: whole(),
  },
  contentChanges: { shard: key(DataTypes.TINYINT), n: { type: DataTypes.BIGINT, allowNull: false } },
  removals: { id: id(), what: words(300), created: { type: DataTypes.DATE(3), allowNull: false } },
  removedRows: {
    id: { type: DataTypes.BIGINT, primaryKey: true, autoIncrement: true },
    removalId: words(40),
    tableName: words(40),
    data: { type: DataTypes.TEXT('long'), allowNull: false },
  },
  releases: {
    id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
    created: { type: DataTypes.DATE(3), allowNull: false },
    note: words(500),
    design: { type: DataTypes.TEXT('long'), allowNull: false },
    changes: { type: DataTypes.TEXT('long'), allowNull: false },
    pages: DataTypes.INTEGER,
  },
  formerAddresses: {
    id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
    typeId: words(40),
    base: words(60),
    address: words(200),
  },
  formerSlugs: {
    kind: key(DataTypes.STRING(10)),
    within: key(DataTypes.STRING(40)),
    slug: key(DataTypes.STRING(120)),
    targetId: key(DataTypes.STRING(40)),
    created: { type: DataTypes.DATE(3), allowNull: false },
  },
  redirects: {
    path: key(DataTypes.STRING(500)),
    target: words(2000),
    created: { type: DataTypes.DATE(3), allowNull: false },
  },
  shareLinks: {
    id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
    tokenHash: { type: DataTypes.CHAR(64), allowNull: false },
    note: words(200),
    created: { type: DataTypes.DATE(3), allowNull: false },
    expires: { type: DataTypes.DATE(3), allowNull: false },
  },
  settings: { name: key(DataTypes.STRING(60)), value: json() },
  workLeft: { name: key(DataTypes.STRING(40)) },
} satisfies Record<string, ModelAttributes>;

export type TableName = keyof typeof ATTRIBUTES;

export const TABLE_NAMES = Object.keys(ATTRIBUTES) as TableName[];

/** A table by its name, as Sequelize models it. Columns are the attributes in snake case. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export function table(name: TableName): ModelStatic<Model<any, any>> {
  const db = database();
  if (db.isDefined(name)) return db.model(name);
  return db.define(name, ATTRIBUTES[name] as ModelAttributes, {
    tableName: name.replace(/[A-Z]/g, (c) => `_${c.toLowerCase()}`),
    underscored: true,
  });
}

/** The plain values of rows that Sequelize found. */
export const plainRows = <T>(rows: Model[]): T[] => rows.map((row) => row.get({ plain: true }) as T);
