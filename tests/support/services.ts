import { z } from 'zod';
import { readAs } from '../../src/lib/server/api/read-as';
import * as themeFile from '../../src/lib/server/exchange/theme-file';
import { MappingSchema } from '../../src/lib/core/releases/theme-file';
import * as importing from '../../src/lib/server/exchange/importing';
import * as authors from '../../src/lib/server/services/authors';
import * as generate from '../../src/lib/server/services/generate';
import * as menus from '../../src/lib/server/services/menus';
import * as theme from '../../src/lib/server/services/theme';
import { MenuSchema } from '../../src/lib/core/schema/menu';
import * as model from '../../src/lib/server/services/model';
import * as media from '../../src/lib/server/services/media';
import * as bulk from '../../src/lib/server/services/records-in-bulk';
import * as redirects from '../../src/lib/server/services/redirects';
import * as shares from '../../src/lib/server/services/shares';
import * as taxonomies from '../../src/lib/server/services/taxonomies';
import * as templates from '../../src/lib/server/services/templates';
import * as lists from '../../src/lib/server/site/canvas-lists';
import { SiteSchema, TaxonomySchema } from '../../src/lib/core/schema/model';
import { TemplateEditsSchema } from '../../src/lib/core/templates/merging';

/** Services as the API asks for them: what is sent passes the schema of the operation, or is refused. */

/** With what is sent first. */
const first =
  <S extends z.ZodType, More extends unknown[], R>(
    schema: S,
    service: (input: z.output<S>, ...more: More) => Promise<R>,
  ) =>
  async (sent: unknown, ...more: More): Promise<R> =>
    service(readAs(schema, sent), ...more);

/** With what it is sent to before it. */
const second =
  <To, S extends z.ZodType, More extends unknown[], R>(
    schema: S,
    service: (to: To, input: z.output<S>, ...more: More) => Promise<R>,
  ) =>
  async (to: To, sent: unknown, ...more: More): Promise<R> =>
    service(to, readAs(schema, sent), ...more);

export const saveSite = first(SiteSchema, model.saveSite);
export const saveAuthor = first(authors.AuthorRequest, authors.saveAuthor);
export const saveTaxonomy = first(TaxonomySchema, taxonomies.saveTaxonomy);
export const saveTerm = first(taxonomies.NewTerm, taxonomies.saveTerm);
export const moveTerm = second(taxonomies.TermMove, taxonomies.moveTerm);
export const changeRecords = first(bulk.RecordsChanged, bulk.changeRecords);
export const generateRecords = second(generate.SampleRequest, generate.generateRecords);
export const changeMedia = second(media.MediaChange, media.changeMedia);
export const addRedirects = first(redirects.RedirectLines, redirects.addRedirects);
export const shareDraft = first(shares.ShareRequest, shares.shareDraft);
export const saveServing = second(templates.ServingSchema, templates.saveServing);
export const assignRecords = second(templates.AssignedSchema, templates.assignRecords);
export const editTemplate = second(TemplateEditsSchema, templates.editTemplate);
export const orderTemplates = first(templates.OrderSchema, templates.orderTemplates);
export const viewFile = first(importing.ImportFileRequest, importing.viewFile);
export const startImport = first(importing.ImportRequest, importing.startImport);
export const listsOfCanvas = first(lists.CanvasQuerySchema, lists.listsOfCanvas);
export const saveMenu = first(MenuSchema.partial({ id: true, version: true }), menus.saveMenu);
export const saveTheme = first(theme.StoredThemeSchema, theme.saveTheme);
export const takeTheme = first(z.object({ file: z.unknown(), mapping: MappingSchema }), themeFile.takeTheme);
