/** What is left to do after migrations, with everything in its new place; `services/start.ts` does it. */
export type Work = 'index' | 'counts' | 'first release' | 'whole releases' | 'picture colours';

/** Statements that may all run again, so that a migration that was cut off anywhere is simply run once more. */
export interface Migration {
  name: string;
  statements: readonly string[];
  leaves: readonly Work[];
}

const BIN = 'CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin';
const ID = `VARCHAR(40) ${BIN}`;
/** SHA-256 in hexadecimal digits. */
const HASH = `CHAR(64) ${BIN}`;

/**
 * `record_index` holds one row for each value that filters and orders look up: numbers, dates and pictures in `number`,
 * folded text in `text`, text as written in `sort`, which is collated by the Unicode Collation Algorithm (MariaDB's
 * uca1400). Empties have no row. `links` holds each relation once; either side reads it.
 */
const FIRST = [
  `CREATE TABLE IF NOT EXISTS sites (id INT PRIMARY KEY, name VARCHAR(200) NOT NULL, tagline VARCHAR(300) NOT NULL, locale VARCHAR(35) NOT NULL,
    time_zone VARCHAR(60) NOT NULL, model_version INT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS content_types (id ${ID} PRIMARY KEY, \`key\` VARCHAR(60) ${BIN} NOT NULL UNIQUE, name VARCHAR(80) NOT NULL, plural VARCHAR(80) NOT NULL,
    base VARCHAR(60) ${BIN} NOT NULL UNIQUE, position INT NOT NULL, taxonomy_ids JSON NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS fields (id ${ID} PRIMARY KEY, type_id ${ID} NOT NULL, \`key\` VARCHAR(60) ${BIN} NOT NULL, label VARCHAR(120) NOT NULL, kind VARCHAR(40) NOT NULL,
    help VARCHAR(500) NOT NULL, required BOOLEAN NOT NULL, settings JSON NOT NULL, position INT NOT NULL, UNIQUE (type_id, \`key\`),
    FOREIGN KEY (type_id) REFERENCES content_types (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS taxonomies (id ${ID} PRIMARY KEY, \`key\` VARCHAR(60) ${BIN} NOT NULL UNIQUE, name VARCHAR(80) NOT NULL, tree BOOLEAN NOT NULL, position INT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS terms (id ${ID} PRIMARY KEY, taxonomy_id ${ID} NOT NULL, parent_id ${ID}, name VARCHAR(160) NOT NULL, slug VARCHAR(100) ${BIN} NOT NULL,
    position INT NOT NULL, UNIQUE (taxonomy_id, slug), FOREIGN KEY (taxonomy_id) REFERENCES taxonomies (id) ON DELETE CASCADE,
    FOREIGN KEY (parent_id) REFERENCES terms (id))`,
  `CREATE TABLE IF NOT EXISTS media (id INT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(255) NOT NULL, mime VARCHAR(60) NOT NULL, width INT NOT NULL, height INT NOT NULL,
    alt VARCHAR(500) NOT NULL, file VARCHAR(100) NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS records (id INT AUTO_INCREMENT PRIMARY KEY, type_id ${ID} NOT NULL, title VARCHAR(500) NOT NULL, slug VARCHAR(120) ${BIN} NOT NULL,
    status VARCHAR(10) NOT NULL, created DATETIME(3) NOT NULL, changed DATETIME(3) NOT NULL, published DATETIME(3), \`values\` JSON NOT NULL, version INT NOT NULL,
    UNIQUE (type_id, slug), KEY (type_id, status, id), FOREIGN KEY (type_id) REFERENCES content_types (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS record_index (record_id INT NOT NULL, field_id ${ID} NOT NULL, number DOUBLE, text MEDIUMTEXT ${BIN},
    sort VARCHAR(191) CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_nopad_as_cs, PRIMARY KEY (record_id, field_id),
    KEY (field_id, number, record_id), KEY (field_id, text(100), record_id), KEY (field_id, sort, record_id),
    FOREIGN KEY (record_id) REFERENCES records (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS record_terms (record_id INT NOT NULL, term_id ${ID} NOT NULL, position INT NOT NULL, PRIMARY KEY (record_id, term_id), KEY (term_id, record_id),
    FOREIGN KEY (record_id) REFERENCES records (id) ON DELETE CASCADE, FOREIGN KEY (term_id) REFERENCES terms (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS links (relation_id ${ID} NOT NULL, a_id INT NOT NULL, b_id INT NOT NULL, a_position INT NOT NULL, b_position INT NOT NULL,
    PRIMARY KEY (relation_id, a_id, b_id), KEY (relation_id, b_id), FOREIGN KEY (a_id) REFERENCES records (id) ON DELETE CASCADE,
    FOREIGN KEY (b_id) REFERENCES records (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS templates (id VARCHAR(60) ${BIN} PRIMARY KEY, name VARCHAR(120) NOT NULL, purpose VARCHAR(20) NOT NULL, serves JSON NOT NULL, \`order\` INT NOT NULL,
    tree JSON NOT NULL, version INT NOT NULL)`,
  `INSERT IGNORE INTO sites VALUES (1, 'Untitled site', '', 'en-GB', 'UTC', 1)`,
];

/**
 * Everything that content needs beside plain records. `record_index` now has a row for every field of a record, empty
 * ones too, so that an order with empties last is the order of one index; fields that hold several values have one row
 * for each, by `part`. It is filled again from the records, see `services/start.ts`.
 */
const CONTENT = [
  "ALTER TABLE fields ADD COLUMN IF NOT EXISTS is_unique BOOLEAN NOT NULL DEFAULT FALSE, ADD COLUMN IF NOT EXISTS tab VARCHAR(60) NOT NULL DEFAULT '', ADD COLUMN IF NOT EXISTS initial JSON NULL",
  "ALTER TABLE terms ADD COLUMN IF NOT EXISTS description TEXT NOT NULL DEFAULT '', ADD COLUMN IF NOT EXISTS picture_id INT NULL",
  `CREATE TABLE IF NOT EXISTS authors (id INT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(160) NOT NULL, slug VARCHAR(100) ${BIN} NOT NULL UNIQUE,
    about MEDIUMTEXT NOT NULL, picture_id INT NULL)`,
  `ALTER TABLE media ADD COLUMN IF NOT EXISTS size INT NOT NULL DEFAULT 0, ADD COLUMN IF NOT EXISTS focal_x DOUBLE NOT NULL DEFAULT 0.5, ADD COLUMN IF NOT EXISTS focal_y DOUBLE NOT NULL DEFAULT 0.5,
    ADD COLUMN IF NOT EXISTS hash CHAR(64) ${BIN} NULL UNIQUE, ADD COLUMN IF NOT EXISTS created DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), MODIFY mime VARCHAR(120) NOT NULL`,
  `ALTER TABLE records ADD COLUMN IF NOT EXISTS author_id INT NULL, ADD COLUMN IF NOT EXISTS is_generated BOOLEAN NOT NULL DEFAULT FALSE, ADD KEY IF NOT EXISTS of_type (type_id, id), ADD KEY IF NOT EXISTS made_up (type_id, is_generated),
    ADD CONSTRAINT record_author FOREIGN KEY IF NOT EXISTS (author_id) REFERENCES authors (id) ON DELETE SET NULL`,
  'DROP TABLE IF EXISTS record_index',
  `CREATE TABLE IF NOT EXISTS record_index (record_id INT NOT NULL, type_id ${ID} NOT NULL, field_id ${ID} NOT NULL, part SMALLINT NOT NULL, is_empty BOOLEAN NOT NULL,
    number DOUBLE, text MEDIUMTEXT ${BIN}, sort VARCHAR(191) CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_nopad_as_cs,
    PRIMARY KEY (record_id, field_id, part),
    KEY numbers (type_id, field_id, is_empty, number, record_id), KEY numbers_down (type_id, field_id, is_empty, number DESC, record_id),
    KEY sorts (type_id, field_id, is_empty, sort, record_id), KEY sorts_down (type_id, field_id, is_empty, sort DESC, record_id),
    KEY texts (type_id, field_id, is_empty, text(100), record_id), FOREIGN KEY (record_id) REFERENCES records (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS mentions (record_id INT NOT NULL, field_id ${ID} NOT NULL, target VARCHAR(6) ${BIN} NOT NULL, target_id INT NOT NULL,
    PRIMARY KEY (record_id, field_id, target, target_id), KEY (target, target_id), FOREIGN KEY (record_id) REFERENCES records (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS unique_values (field_id ${ID} NOT NULL, value_key CHAR(64) ${BIN} NOT NULL, record_id INT NOT NULL, PRIMARY KEY (field_id, value_key), KEY (record_id),
    FOREIGN KEY (record_id) REFERENCES records (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS record_counts (type_id ${ID} NOT NULL, status VARCHAR(10) ${BIN} NOT NULL, shard TINYINT NOT NULL, n INT NOT NULL, PRIMARY KEY (type_id, status, shard))`,
  `CREATE TABLE IF NOT EXISTS removals (id ${ID} PRIMARY KEY, what VARCHAR(300) NOT NULL, created DATETIME(3) NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS removed_rows (id BIGINT AUTO_INCREMENT PRIMARY KEY, removal_id ${ID} NOT NULL, table_name VARCHAR(40) NOT NULL, data LONGTEXT NOT NULL, KEY (removal_id, id),
    FOREIGN KEY (removal_id) REFERENCES removals (id) ON DELETE CASCADE)`,
];

/** The theme, and what templates were before: one row for each sitting at the workbench, with the names of its edits. */
const WORKBENCH = [
  'CREATE TABLE IF NOT EXISTS themes (id INT PRIMARY KEY, tokens JSON NOT NULL, version INT NOT NULL)',
  `CREATE TABLE IF NOT EXISTS template_versions (id INT AUTO_INCREMENT PRIMARY KEY, template_id VARCHAR(60) ${BIN} NOT NULL, version INT NOT NULL, tree JSON NOT NULL,
    edits JSON NOT NULL, sitting VARCHAR(40) NOT NULL, began DATETIME(3) NOT NULL, saved DATETIME(3) NOT NULL, KEY (template_id, id),
    FOREIGN KEY (template_id) REFERENCES templates (id) ON DELETE CASCADE)`,
];

/**
 * The words of running text, in the form in which they are searched; see `core/content/search.ts`. `record_index` says of
 * each row whether visitors can see its record, so that a page far down a list is found along the index alone.
 */
const SEARCH = [
  'CREATE TABLE IF NOT EXISTS content_changes (shard TINYINT PRIMARY KEY, n BIGINT NOT NULL)',
  `INSERT IGNORE INTO content_changes VALUES ${Array.from({ length: 16 }, (_, i) => `(${i}, 0)`).join(', ')}`,
  `ALTER TABLE record_index ADD COLUMN IF NOT EXISTS shown BOOLEAN NOT NULL DEFAULT FALSE AFTER field_id,
    DROP KEY IF EXISTS numbers, DROP KEY IF EXISTS numbers_down, DROP KEY IF EXISTS sorts, DROP KEY IF EXISTS sorts_down,
    ADD KEY numbers (type_id, field_id, shown, is_empty, number, record_id), ADD KEY numbers_down (type_id, field_id, shown, is_empty, number DESC, record_id),
    ADD KEY sorts (type_id, field_id, shown, is_empty, sort, record_id), ADD KEY sorts_down (type_id, field_id, shown, is_empty, sort DESC, record_id)`,
  "ALTER TABLE content_types ADD COLUMN IF NOT EXISTS description TEXT NOT NULL DEFAULT ''",
  `CREATE TABLE IF NOT EXISTS record_words (record_id INT NOT NULL, type_id ${ID} NOT NULL, field_id ${ID} NOT NULL, words MEDIUMTEXT ${BIN} NOT NULL,
    PRIMARY KEY (record_id, field_id), KEY (field_id), FULLTEXT KEY (words), FOREIGN KEY (record_id) REFERENCES records (id) ON DELETE CASCADE)`,
];

/** Rules that are kept under a name. */
const RULES = [
  `CREATE TABLE IF NOT EXISTS named_rules (id VARCHAR(60) ${BIN} PRIMARY KEY, name VARCHAR(120) NOT NULL, type_id ${ID} NOT NULL, rule JSON NOT NULL, version INT NOT NULL)`,
];

/**
 * What designers change is a draft until it is released. A release holds the whole design as one row, so that the site is
 * never drawn from parts of two; `sites` says which one visitors see. What addresses were before leads to what they are.
 */
const RELEASES = [
  'ALTER TABLE content_types ADD COLUMN IF NOT EXISTS address VARCHAR(200) NULL, ADD COLUMN IF NOT EXISTS structured JSON NULL',
  'ALTER TABLE templates ADD COLUMN IF NOT EXISTS excepted JSON NULL',
  `CREATE TABLE IF NOT EXISTS menus (id VARCHAR(60) ${BIN} PRIMARY KEY, name VARCHAR(120) NOT NULL, entries JSON NOT NULL, position INT NOT NULL, version INT NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS releases (id INT AUTO_INCREMENT PRIMARY KEY, created DATETIME(3) NOT NULL, note VARCHAR(500) NOT NULL, design LONGTEXT NOT NULL, changes LONGTEXT NOT NULL,
    pages INT NULL)`,
  'ALTER TABLE sites ADD COLUMN IF NOT EXISTS release_id INT NULL, ADD CONSTRAINT site_release FOREIGN KEY IF NOT EXISTS (release_id) REFERENCES releases (id)',
  `CREATE TABLE IF NOT EXISTS former_addresses (id INT AUTO_INCREMENT PRIMARY KEY, type_id ${ID} NOT NULL, base VARCHAR(60) ${BIN} NOT NULL, address VARCHAR(200) ${BIN} NOT NULL,
    UNIQUE (type_id, base, address))`,
  `CREATE TABLE IF NOT EXISTS former_slugs (kind VARCHAR(10) ${BIN} NOT NULL, within ${ID} NOT NULL, slug VARCHAR(120) ${BIN} NOT NULL, target_id ${ID} NOT NULL, created DATETIME(3) NOT NULL,
    PRIMARY KEY (kind, within, slug, target_id))`,
  `CREATE TABLE IF NOT EXISTS redirects (path VARCHAR(500) ${BIN} PRIMARY KEY, target VARCHAR(2000) ${BIN} NOT NULL, created DATETIME(3) NOT NULL)`,
  `CREATE TABLE IF NOT EXISTS share_links (id INT AUTO_INCREMENT PRIMARY KEY, token_hash CHAR(64) ${BIN} NOT NULL UNIQUE, note VARCHAR(200) NOT NULL, created DATETIME(3) NOT NULL,
    expires DATETIME(3) NOT NULL)`,
  'ALTER TABLE records ADD KEY IF NOT EXISTS due (status, published)',
];

/** What is set for the whole application, by name; and removals by the day on which they end. */
const SETTINGS = [
  'CREATE TABLE IF NOT EXISTS settings (name VARCHAR(60) PRIMARY KEY, value JSON NOT NULL)',
  'ALTER TABLE removals ADD KEY IF NOT EXISTS created (created)',
];

/**
 * Who may sign in, and what they did. What lets somebody in (sessions, tokens, links good once) is kept as a SHA-256
 * alone. Who made a record or file is a number without a key to `accounts`, so that what was removed comes back whole.
 */
const ACCOUNTS = [
  `CREATE TABLE IF NOT EXISTS accounts (id INT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(160) NOT NULL, email VARCHAR(254) ${BIN} NOT NULL UNIQUE, role VARCHAR(10) NOT NULL,
    may_publish BOOLEAN NOT NULL DEFAULT FALSE, is_closed BOOLEAN NOT NULL DEFAULT FALSE, created DATETIME(3) NOT NULL, handle CHAR(43) ${BIN} NOT NULL UNIQUE,
    password VARCHAR(200) NULL, subject VARCHAR(500) ${BIN} NULL UNIQUE, code_secret VARCHAR(64) NULL, code_step BIGINT NULL)`,
  `CREATE TABLE IF NOT EXISTS recovery_codes (account_id INT NOT NULL, code_hash ${HASH} NOT NULL, PRIMARY KEY (account_id, code_hash),
    FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS sessions (token_hash ${HASH} PRIMARY KEY, id ${ID} NOT NULL UNIQUE, account_id INT NOT NULL, created DATETIME(3) NOT NULL, seen DATETIME(3) NOT NULL,
    ends DATETIME(3) NOT NULL, confirmed DATETIME(3) NOT NULL, address VARCHAR(45) NOT NULL, browser VARCHAR(200) NOT NULL, KEY (ends),
    FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS passkeys (id ${ID} PRIMARY KEY, account_id INT NOT NULL, credential VARCHAR(1400) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE, public_key TEXT NOT NULL,
    counter BIGINT NOT NULL, transports JSON NOT NULL, name VARCHAR(100) NOT NULL, created DATETIME(3) NOT NULL, used DATETIME(3) NULL,
    FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS passes (token_hash ${HASH} PRIMARY KEY, purpose VARCHAR(12) NOT NULL, account_id INT NULL, data JSON NOT NULL, ends DATETIME(3) NOT NULL, KEY (ends),
    FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS api_tokens (id ${ID} PRIMARY KEY, account_id INT NOT NULL, name VARCHAR(100) NOT NULL, token_hash ${HASH} NOT NULL UNIQUE, scopes JSON NOT NULL,
    created DATETIME(3) NOT NULL, ends DATETIME(3) NOT NULL, used DATETIME(3) NULL, FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE)`,
  `CREATE TABLE IF NOT EXISTS activities (id BIGINT AUTO_INCREMENT PRIMARY KEY, moment DATETIME(3) NOT NULL, account_id INT NULL, who VARCHAR(160) NOT NULL, via VARCHAR(10) NOT NULL,
    operation VARCHAR(60) NOT NULL, what VARCHAR(500) NOT NULL, subject VARCHAR(80) ${BIN} NULL, KEY (subject, id), KEY (account_id, id), KEY (moment),
    FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE SET NULL)`,
  `CREATE TABLE IF NOT EXISTS throttles (name ${HASH} PRIMARY KEY, n INT NOT NULL, ends DATETIME(3) NOT NULL, KEY (ends))`,
  'ALTER TABLE records ADD COLUMN IF NOT EXISTS made_by INT NULL, ADD COLUMN IF NOT EXISTS proposed DATETIME(3) NULL, ADD KEY IF NOT EXISTS proposals (proposed)',
  'ALTER TABLE media ADD COLUMN IF NOT EXISTS made_by INT NULL',
  'ALTER TABLE removals ADD COLUMN IF NOT EXISTS made_by INT NULL',
  `CREATE TABLE IF NOT EXISTS record_shares (record_id INT NOT NULL, account_id INT NOT NULL, PRIMARY KEY (record_id, account_id),
    FOREIGN KEY (record_id) REFERENCES records (id) ON DELETE CASCADE, FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE)`,
];

/**
 * The model is released like everything else that is designed, so that what was removed from the draft stays for visitors
 * until the next release. Its row gives its key and base free, and is known by its id alone.
 */
const RELEASED_MODEL = [
  'ALTER TABLE content_types ADD COLUMN IF NOT EXISTS is_removed BOOLEAN NOT NULL DEFAULT FALSE',
  'ALTER TABLE taxonomies ADD COLUMN IF NOT EXISTS is_removed BOOLEAN NOT NULL DEFAULT FALSE',
];

/** How light and how dark pictures are, so that what lies between one and the words over it is no more than is needed. */
const PICTURE_COLOURS = [
  'ALTER TABLE media ADD COLUMN IF NOT EXISTS lightest CHAR(7) NULL, ADD COLUMN IF NOT EXISTS darkest CHAR(7) NULL',
];

/** How fast visitors read, where the site says so. */
const READING_PACE = ['ALTER TABLE sites ADD COLUMN IF NOT EXISTS reading_pace INT NULL'];

/**
 * Which records changed, under the number that the counter of changes came to; 0 stands for all of them. Lists are
 * answered from columns in memory, which are filled from `record_index` field by field and kept right by this: no
 * statement puts anything in order any more, and the indexes for that are gone.
 */
const COLUMNS = [
  `CREATE TABLE IF NOT EXISTS record_changes (shard TINYINT NOT NULL, n BIGINT NOT NULL, record_id INT NOT NULL, moment DATETIME NOT NULL,
    PRIMARY KEY (shard, n, record_id), KEY (moment))`,
  `ALTER TABLE record_index ADD KEY IF NOT EXISTS of_field (type_id, field_id),
    DROP KEY IF EXISTS numbers, DROP KEY IF EXISTS numbers_down, DROP KEY IF EXISTS sorts, DROP KEY IF EXISTS sorts_down, DROP KEY IF EXISTS texts,
    DROP COLUMN IF EXISTS shown`,
  // What every record has stands in its own row.
  "DELETE FROM record_index WHERE field_id LIKE '@%'",
  'ALTER TABLE records ADD KEY IF NOT EXISTS called (type_id, title(80))',
  'ALTER TABLE record_words DROP KEY IF EXISTS words, DROP KEY IF EXISTS field_id, ADD KEY IF NOT EXISTS of_type (type_id, field_id)',
];

/** Work that goes on, taken by any process, and files that wait for whoever sent them or had them made. */
const JOBS = [
  `CREATE TABLE IF NOT EXISTS jobs (id ${ID} PRIMARY KEY, kind VARCHAR(30) NOT NULL, asked JSON NOT NULL, account_id INT NOT NULL, account_name VARCHAR(160) NOT NULL,
    state VARCHAR(10) NOT NULL, done BIGINT NOT NULL DEFAULT 0, total BIGINT NULL, result JSON NULL, title VARCHAR(500) NULL, problems JSON NULL, tries INT NOT NULL DEFAULT 0,
    stopping BOOLEAN NOT NULL DEFAULT FALSE, holder CHAR(36) NULL, heard DATETIME(3) NOT NULL, created DATETIME(3) NOT NULL, KEY (state, created))`,
  `CREATE TABLE IF NOT EXISTS held_files (id ${ID} PRIMARY KEY, account_id INT NOT NULL, file VARCHAR(100) NOT NULL, name VARCHAR(300) NOT NULL, size BIGINT NOT NULL,
    since DATETIME(3) NOT NULL, KEY (account_id), KEY (since))`,
];

/** What the site was last written to files as, for each address where it is to be. */
const EXPORTS = [
  `CREATE TABLE IF NOT EXISTS exports (site VARCHAR(500) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL PRIMARY KEY, made DATETIME(3) NOT NULL, pages INT NOT NULL, file VARCHAR(100) NOT NULL)`,
];

/** Whether a link sent to an account's address was opened; which role a group rule gave, and which one there was before; tries that grow slower; known devices. */
const IDENTITIES = [
  `ALTER TABLE accounts ADD COLUMN IF NOT EXISTS email_proved BOOLEAN NOT NULL DEFAULT FALSE,
    ADD COLUMN IF NOT EXISTS role_by_rule BOOLEAN NOT NULL DEFAULT FALSE, ADD COLUMN IF NOT EXISTS role_before VARCHAR(10) NULL`,
  'ALTER TABLE throttles ADD COLUMN IF NOT EXISTS last_try DATETIME(3) NULL',
  `CREATE TABLE IF NOT EXISTS devices (token_hash ${HASH} PRIMARY KEY, account_id INT NOT NULL, ends DATETIME(3) NOT NULL, KEY (ends),
    FOREIGN KEY (account_id) REFERENCES accounts (id) ON DELETE CASCADE)`,
];

/** What requests that carry an Idempotency-Key were answered with, for a day. */
const IDEMPOTENCY = [
  `CREATE TABLE IF NOT EXISTS idempotency_keys (name ${HASH} PRIMARY KEY, request ${HASH} NOT NULL, status SMALLINT NULL, headers JSON NULL, body LONGTEXT NULL,
    created DATETIME(3) NOT NULL, KEY (created))`,
];

/** How many records have a value in each field is counted along the index alone. */
const FILLED = [
  'ALTER TABLE record_index ADD KEY IF NOT EXISTS filled (type_id, field_id, record_id, part, is_empty), DROP KEY IF EXISTS of_field',
];

const step = (name: string, statements: readonly string[], leaves: readonly Work[] = []): Migration => ({
  name,
  statements,
  leaves,
});

/**
 * Every change to the tables, oldest first. Never change what one that has shipped leads to; add another. Each statement
 * changes tables in one step (MariaDB's atomic DDL) and does nothing where it was done before.
 */
export const migrations: Migration[] = [
  step('0001-first-tables', FIRST),
  step('0002-content', CONTENT, ['index', 'counts']),
  step('0003-workbench', WORKBENCH),
  step('0004-search', SEARCH, ['index']),
  step('0005-rules', RULES),
  step('0006-releases', RELEASES, ['first release']),
  // What was left to do was once kept in memory alone, and lost with the process; so it is done again, everywhere.
  step('0007-fill-again', [], ['index', 'counts']),
  step('0008-settings', SETTINGS),
  step('0009-accounts', ACCOUNTS),
  step('0010-released-model', RELEASED_MODEL, ['whole releases']),
  step('0011-picture-colours', PICTURE_COLOURS, ['picture colours']),
  step('0012-reading-pace', READING_PACE),
  step('0013-columns', COLUMNS),
  step('0014-jobs', JOBS),
  step('0015-exports', EXPORTS),
  step('0016-identities', IDENTITIES),
  step('0017-idempotency', IDEMPOTENCY),
  step('0018-filled', FILLED),
];
