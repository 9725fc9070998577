import { DataTypes, type Model, type ModelAttributes, type ModelStatic } from 'sequelize';
import { database } from './connect';

// Sequelize writes into what it is given, so every column gets an object of its own.
const id = () => ({ type: DataTypes.STRING(40), primaryKey: true });
const words = (length: number) => ({ type: DataTypes.STRING(length), allowNull: false });
const whole = () => ({ type: DataTypes.INTEGER, allowNull: false });
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
} satisfies Record<string, ModelAttributes>;

type TableName = keyof typeof ATTRIBUTES;

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
export const plain = <T>(rows: Model[]): T[] => rows.map((row) => row.get({ plain: true }) as T);
