import type { PublicKeyCredentialCreationOptionsJSON } from '@simplewebauthn/server';
import { z } from 'zod';
import { IMPORT_FORMATS } from '../../core/exchange/imports';
import { MediaSchema, RecordSchema, STATUSES } from '../../core/schema/record';
import { RecordChangeSchema } from '../../core/content/validate';
import { FieldSchema } from '../../core/schema/field';
import { AuthorSchema, ContentTypeSchema, SiteSchema, TaxonomySchema, TermSchema } from '../../core/schema/model';
import { MenuSchema } from '../../core/schema/menu';
import { NamedRuleSchema } from '../../core/schema/named-rule';
import { PURPOSES, TemplateSchema } from '../../core/schema/template';
import { TargetSchema } from '../../core/schema/target';
import { MappingSchema } from '../../core/releases/theme-file';
import { ThemeSchema } from '../../core/schema/theme';
import { ROLES } from '../../core/people/roles';
import { AccountChange, Email, NewAccount, PersonName } from '../people/accounts';
import { WAYS } from '../../core/people/activity';
import { ProviderRules } from '../people/provider';
import { NewToken } from '../people/tokens';
import { TreeSchema } from '../../core/schema/element';
import { TemplateEditsSchema } from '../../core/templates/merging';
import { ImportFileRequest, ImportRequest } from '../exchange/importing';
import { AuthorRequest } from '../services/authors';
import { SampleRequest } from '../services/generate';
import { OptionAnswerSchema } from '../../core/content/options';
import { MediaChange } from '../services/media';
import { RecordsChanged } from '../services/records-in-bulk';
import { RedirectLines } from '../services/redirects';
import { ReleaseHeadSchema, ReleaseWanted } from '../services/releases';
import { Retention } from '../services/removed';
import { ShareRequest } from '../services/shares';
import { StoredThemeSchema } from '../services/theme';
import { NewTerm, TermMove } from '../services/taxonomies';
import { CanvasQuerySchema } from '../site/canvas-lists';
import { AssignedSchema, OrderSchema, ServingSchema } from '../services/templates';
import { AffectedJob, BackupReadingJob, BackupWritingJob, ExportJob, ImportJob, JobSchema } from './jobs';
import {
  AddressResolutionSchema,
  AssignedTemplateSchema,
  CanvasListsSchema,
  FileViewSchema,
  LooseEnd,
  OptionsGoingSchema,
  PendingSchema,
  Problems,
  Reading,
  ServingPreviewSchema,
  ThemePlanSchema,
  ThemeTakenSchema,
  Uses,
  WorkbenchSchema,
  WorkbenchSiteSchema,
} from './responses';

const AccountSchema = z.object({
  id: z.number(),
  name: z.string(),
  email: z.string(),
  role: z.enum(ROLES),
  mayPublish: z.boolean(),
  closed: z.boolean(),
  created: z.string(),
  has: z.object({ password: z.boolean(), code: z.boolean(), provider: z.boolean() }),
});
const PasskeySchema = z.object({
  id: z.string(),
  name: z.string(),
  created: z.string(),
  used: z.string().nullable(),
});
const TokenSchema = z.object({
  id: z.string(),
  name: z.string(),
  scopes: z.array(z.string()),
  readOnly: z.boolean(),
  created: z.string(),
  ends: z.string(),
  used: z.string().nullable(),
});
const Id = z.string().max(60);
const Numbers = z.array(z.number().int().positive());
const Share = z.object({ id: z.number(), note: z.string(), created: z.string(), expires: z.string() });
const VersionHead = z.object({
  id: z.number(),
  version: z.number(),
  began: z.string(),
  saved: z.string(),
  edits: z.array(z.string()),
});

/** What crosses the border, by name: bodies, and answers. Those that a service checks by are its own. */
export const schemas = {
  Anything: z.unknown(),
  Field: FieldSchema,
  ContentType: ContentTypeSchema,
  TypesChange: z.strictObject({
    types: z.array(z.unknown()).min(1).max(50),
    becomes: z.array(OptionAnswerSchema).max(1000).optional(),
  }),
  OptionsGoing: OptionsGoingSchema,
  SavedTypes: z.object({ types: z.array(ContentTypeSchema), removal: z.string().optional() }),
  TypeFromSchema: z.object({ type: ContentTypeSchema, left: Problems }),
  OrderChange: OrderSchema,
  /** What uses a content type or, where one is named, a field; with how many records or values there are. */
  Uses: z.object({ uses: Uses, records: z.number().optional(), values: z.number().optional() }),
  /** What shows a picture or file, and whether whoever asks may change or delete it. */
  MediaUses: z.object({ uses: Uses, editable: z.boolean() }),
  ReadTypeface: z.object({
    family: z.string(),
    face: ThemeSchema.shape.typefaces.unwrap().element.shape.faces.element,
    metrics: ThemeSchema.shape.typefaces.unwrap().element.shape.metrics,
    licence: z.string(),
  }),
  Fill: z.object({ total: z.number(), fields: z.record(z.string(), z.number()) }),
  KindPreview: z.object({
    kept: z.number(),
    lost: z.number(),
    empty: z.number(),
    /** A few values, as they are and as they would be. */
    examples: z.array(z.object({ title: z.string(), before: z.string(), after: z.string().nullable() })),
    released: Reading,
  }),
  Described: z.array(z.object({ name: z.string(), about: z.string(), takes: z.array(z.string()).optional() })),
  Record: RecordSchema,
  NewRecord: RecordChangeSchema.omit({ version: true, generated: true }).extend({ typeId: z.string() }),
  RecordChange: RecordChangeSchema,
  RecordsChange: RecordsChanged,
  RecordIdsRequest: z.strictObject({ ids: Numbers.min(1, { error: 'Nothing is chosen.' }).max(5000) }),
  /** `left` are those that could not be changed so, and why. */
  ChangedRecords: z.object({
    removal: z.string(),
    changed: z.number(),
    left: z.array(z.object({ id: z.number(), title: z.string(), problems: Problems })),
  }),
  Titles: z.array(z.object({ id: z.number(), title: z.string(), typeId: z.string(), status: z.enum(STATUSES) })),
  MadeUpRequest: SampleRequest,
  Made: z.object({ made: z.number() }),
  /** What was taken away, to be put back by. */
  Removal: z.object({ removal: z.string() }),
  RemovedRecords: z.object({ removal: z.string(), deleted: z.number() }),
  Undone: z.object({ what: z.string() }),
  /** What can be brought back, and for how many days. */
  Removed: z.object({
    items: z.array(
      z.object({ id: z.string(), what: z.string(), created: z.string(), until: z.string(), holds: z.string() }),
    ),
    total: z.number(),
    days: z.number(),
  }),
  Retention: Retention,
  Taxonomy: TaxonomySchema,
  Term: TermSchema,
  NewTerm,
  TermMoveRequest: TermMove,
  TermMergeRequest: z.strictObject({ into: Id }),
  Author: AuthorSchema,
  NewAuthor: AuthorRequest,
  Media: MediaSchema,
  /** `again` where the same content was there already. */
  AddedMedia: MediaSchema.extend({ again: z.boolean() }),
  MediaChange,
  MediaIdsRequest: z.strictObject({ ids: Numbers.max(1000) }),
  Template: TemplateSchema,
  NewTemplate: z.strictObject({
    name: z.string().trim().min(1, { error: 'A template has a name.' }).max(120),
    purpose: z.enum(PURPOSES, { error: 'A template is for a record page, an archive page, a part or the frame.' }),
    /** For one that serves the records of a type, or is about them. */
    typeId: Id.optional(),
    serves: z.array(TargetSchema).max(50).optional(),
    except: z.array(TargetSchema).max(50).optional(),
    /** Begins with what its fields call for. */
    ready: z.boolean().default(false),
    /** What it begins with. */
    tree: TreeSchema.optional(),
  }),
  TemplateEditsRequest: TemplateEditsSchema,
  EditedTemplate: z.object({
    version: z.number(),
    name: z.string(),
    tree: TreeSchema.optional(),
    looseEnds: z.array(LooseEnd),
  }),
  ServingChange: ServingSchema,
  ServingRequest: z.strictObject({
    id: Id.optional(),
    purpose: z.enum(PURPOSES),
    serves: z.array(TargetSchema).max(50),
    except: z.array(TargetSchema).max(50).default([]),
  }),
  AssignedRequest: AssignedSchema,
  CanvasRequest: CanvasQuerySchema,
  LaidOut: z.object({ processes: z.number().int(), done: z.number().int(), total: z.number().int() }),
  Versions: z.array(VersionHead),
  Version: z.object({ version: z.number(), tree: TreeSchema }),
  LooseEnds: z.array(LooseEnd.extend({ templateId: z.string() })),
  Rule: NamedRuleSchema,
  RuleChange: NamedRuleSchema.partial({ id: true }),
  NewRule: NamedRuleSchema.omit({ id: true, version: true }),
  RulesWithUses: z.object({
    rules: z.array(NamedRuleSchema),
    uses: z.record(z.string(), z.array(z.object({ what: z.string(), href: z.string() }))),
  }),
  Icon: z.object({
    name: z.string(),
    words: z.string().describe('What it is found by besides its name'),
    body: z.string().describe('Elements of SVG in a box of 24 by 24, drawn by lines of the colour of the text'),
  }),
  Site: SiteSchema,
  KeptTheme: StoredThemeSchema,
  Menu: MenuSchema,
  /** The address says which. */
  MenuChange: MenuSchema.partial({ id: true }),
  NewMenu: MenuSchema.omit({ id: true, version: true }),
  Redirects: z.object({
    redirects: z.array(z.object({ path: z.string(), target: z.string() })),
    total: z.number(),
  }),
  RedirectsRequest: RedirectLines,
  AddedRedirects: z.object({ added: z.number() }),
  Shares: z.array(Share),
  ShareRequest: ShareRequest,
  NewShare: Share.extend({ token: z.string() }),
  Release: ReleaseHeadSchema,
  NewRelease: ReleaseWanted,
  Page: z.object({
    address: z.string(),
    state: z.enum(['released', 'draft']),
    status: z.number().int(),
    /** Where it leads, for one that has moved. */
    to: z.string().optional(),
    html: z.string(),
  }),
  FileRequest: ImportFileRequest,
  ImportRequest: ImportRequest,
  ReceivedFile: z.object({ id: z.string(), name: z.string(), size: z.number(), format: z.enum(IMPORT_FORMATS) }),
  ExportRequest: z.strictObject({
    origin: z.string().max(500).default(''),
    /** Only those files that differ from the export before for the same address. */
    changed: z.boolean().default(false),
  }),
  /** The last export for each address; the address is empty where none was given. */
  ExportsBefore: z.array(z.object({ site: z.string(), made: z.string(), pages: z.number().int() })),
  ThemeTakeRequest: z.strictObject({ file: z.unknown(), mapping: MappingSchema }),
  Job: JobSchema,
  ImportJob,
  AffectedJob,
  ExportJob,
  BackupWritingJob,
  BackupReadingJob,
  Workbench: WorkbenchSchema,
  WorkbenchSite: WorkbenchSiteSchema,
  MoreRecords: z.object({ records: z.array(RecordSchema) }),
  CanvasLists: CanvasListsSchema,
  FileView: FileViewSchema,
  ThemePlan: ThemePlanSchema,
  ThemeTaken: ThemeTakenSchema,
  Pending: PendingSchema,
  AssignedTemplate: AssignedTemplateSchema,
  AddressContest: AddressResolutionSchema,
  ServingPreview: ServingPreviewSchema,
  Standing: z.object({
    maker: z.object({ id: z.number(), name: z.string() }).nullable(),
    shared: z.array(z.object({ id: z.number(), name: z.string() })),
    proposed: z.string().nullable(),
  }),
  ProposalChange: z.strictObject({ proposed: z.boolean() }),
  RecordPeopleChange: z.strictObject({ accounts: Numbers.max(200) }),
  Proposals: z.array(
    z.object({
      id: z.number(),
      typeId: z.string(),
      title: z.string(),
      who: z.string().nullable(),
      proposed: z.string(),
    }),
  ),
  Account: AccountSchema,
  Accounts: z.array(AccountSchema),
  NewAccount,
  AccountChange,
  /** An account with the link to send, where no letter was sent. */
  Invited: AccountSchema.extend({ link: z.string().optional(), mailed: z.boolean() }),
  AccountLink: z.object({ link: z.string().optional(), mailed: z.boolean() }),
  Names: z.array(z.object({ id: z.number(), name: z.string(), role: z.enum(ROLES) })),
  Me: z.object({ account: AccountSchema, may: z.array(z.string()), fresh: z.boolean() }),
  MeChange: z.strictObject({ name: PersonName.optional(), email: Email.optional() }),
  /** `pendingEmail` is an address that counts once the link sent to it was opened. */
  MeChanged: AccountSchema.extend({ pendingEmail: z.string().optional() }),
  ConfirmRequest: z.strictObject({ password: z.string().max(1000) }),
  PasswordChange: z.strictObject({
    current: z.string().max(1000).optional(),
    password: z.string({ error: 'Give a password.' }).max(1000),
    keepTokens: z.boolean().optional(),
  }),
  /** What the browser’s own function for making passkeys takes (WebAuthn, PublicKeyCredentialCreationOptionsJSON). */
  BegunPasskey: z.object({ pass: z.string(), options: z.custom<PublicKeyCredentialCreationOptionsJSON>() }),
  BegunCodes: z.object({ pass: z.string(), secret: z.string(), address: z.string() }),
  NewPasskey: z.strictObject({
    pass: z.string().max(100),
    name: z.string().trim().min(1, { error: 'Give a name.' }).max(100),
    response: z.unknown(),
  }),
  Passkey: PasskeySchema,
  Passkeys: z.array(PasskeySchema),
  CodesRequest: z.strictObject({ pass: z.string().max(100), code: z.string().max(40) }),
  RecoveryCodes: z.object({ recovery: z.array(z.string()) }),
  CodesLeft: z.object({ inUse: z.boolean(), recovery: z.number() }),
  Sessions: z.array(
    z.object({
      id: z.string(),
      created: z.string(),
      seen: z.string(),
      address: z.string(),
      browser: z.string(),
      own: z.boolean(),
    }),
  ),
  NewToken,
  Token: TokenSchema,
  /** Its token is told this once. */
  MadeToken: TokenSchema.extend({ token: z.string() }),
  Tokens: z.array(TokenSchema),
  PeopleTokens: z.array(TokenSchema.extend({ accountId: z.number() })),
  ProviderRules,
  Activities: z.object({
    items: z.array(
      z.object({
        id: z.number(),
        moment: z.string(),
        accountId: z.number().nullable(),
        who: z.string(),
        via: z.enum(WAYS),
        operation: z.string(),
        what: z.string(),
        subject: z.string().nullable(),
      }),
    ),
    total: z.number(),
  }),
  Problem: z.object({
    type: z.string().default('about:blank'),
    title: z.string(),
    status: z.number().int(),
    detail: z.string().optional(),
    instance: z.string().optional(),
    /** What can be acted on: where, what is wrong, what would be right. */
    problems: Problems.optional(),
  }),
};
