import { createWriteStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { z } from 'zod';
import { slugOf } from '../../../core/base/text';
import { readBackup, type BackupResult } from '../../exchange/backup/read';
import { writeBackup, type BackupProgress } from '../../exchange/backup/write';
import { deleteUpload, keepUpload, readUpload, makeRoomForUpload, withUpload } from '../../exchange/uploads';
import { importing, receiveFile, startImport, viewFile } from '../../exchange/importing';
import { cancelJob, defineJob, readJob } from '../../jobs/jobs';
import { exportTheme, planTheme, takeTheme } from '../../exchange/theme-file';
import { localPath } from '../../files/local';
import { exportSite, siteAddress } from '../../site/export/export';
import { exportsBefore, keepManifest, manifestBefore } from '../../site/export/before';
import { ownOrigin } from '../../base/origins';
import { attachment, download, fileResponse, fileName, pieces } from '../http';
import { operation, type OperationInput } from '../operation';
import { schemas } from '../schemas';
import type { ExportJob } from '../jobs';

type Exported = NonNullable<z.infer<typeof ExportJob>['result']>;

const Named = z.object({ name: z.string().max(200).default('file') });
const jobs_ = { tag: 'Jobs', requiredRole: 'editor' } as const;
const owns = { tag: 'Files', requiredRole: 'owner', touches: 'site' } as const;

/** Sends a zip that was written for whoever asks, under a name with the day. */
const storedZip = (name: string) =>
  ({
    tag: 'Files',
    response: 'file',
    status: 200,
    run: async ({ params, request, principal }: OperationInput<'/{file}', undefined, undefined>) => {
      const { content, size } = await readUpload(params.file, principal.id);
      return fileResponse(request, content, {
        'content-type': 'application/zip',
        'content-length': String(size),
        'content-disposition': attachment(`${name}-${new Date().toISOString().slice(0, 10)}.zip`),
      });
    },
  }) as const;

/** Writes the released site as a zip; what is built with the application is asked of the application itself. */
const exportingWith = (base: string) =>
  defineJob<{ site: string | undefined; own: string; changed?: boolean }, Exported>('export', {
    again: true,
    async run({ site, own, changed }, by, progress) {
      const account = by?.id ?? 0;
      await makeRoomForUpload(account);
      const path = await localPath('.zip');
      const other = async (address: string) => {
        const answer = await fetch(new URL(address, ownOrigin(new URL(own))));
        if (!answer.ok) return undefined;
        const page = answer.headers.get('content-type')?.startsWith('text/html');
        return { bytes: new Uint8Array(await answer.arrayBuffer()), ...(page && { ending: '.html' }) };
      };
      try {
        const before = changed ? await manifestBefore(site ?? '') : undefined;
        const made = await exportSite({ path, base, site, other, before }, progress);
        if (!made) return undefined;
        const { manifest, ...told } = made;
        const written = before && [...manifest].filter(([name, hash]) => before.get(name) !== hash).length;
        const file = await keepUpload(account, path, { name: 'site.zip', size: (await stat(path)).size });
        await keepManifest(site ?? '', told.pages, manifest);
        return { ...told, file, ...(written !== undefined && { changed: written }) };
      } finally {
        await rm(path, { force: true });
      }
    },
  });

/** Writes a backup into a file that waits for whoever had it made. */
const writingBackup = defineJob<null, { file: string; bytes: number }>('write backup', {
  again: true,
  async run(_, by, progress) {
    const account = by?.id ?? 0;
    await makeRoomForUpload(account);
    const path = await localPath('.zip');
    try {
      const tell = ({ done, total }: BackupProgress) => progress.report(done, total);
      await pipeline(writeBackup({ tell, signal: progress.signal }), createWriteStream(path));
      const { size } = await stat(path);
      return { file: await keepUpload(account, path, { name: 'backup.zip', size }), bytes: size };
    } catch (error) {
      if (progress.signal.aborted) return undefined;
      throw error;
    } finally {
      await rm(path, { force: true });
    }
  },
});

/** Fills an empty database; where its process dies, what is there is no longer empty, or nothing is. */
const restoring = defineJob<{ file: string }, BackupResult>('backup', {
  again: false,
  async run({ file }, by, progress) {
    return withUpload(file, by?.id ?? 0, (path) => readBackup(path, progress)).finally(() => deleteUpload(file));
  },
});

/** `base` is the site's own style sheet. */
export function exchange(base: string) {
  const exporting = exportingWith(base);
  return [
    operation('GET /backup', {
      id: 'readBackup',
      activity: 'Took the whole archive home',
      ...owns,
      summary: 'Everything as one file',
      response: 'file',
      status: 200,
      run: () =>
        Promise.resolve(
          download(`plum-thread-${new Date().toISOString().slice(0, 10)}.zip`, 'application/zip', writeBackup()),
        ),
    }),
    operation('POST /backup/file', {
      id: 'startBackup',
      activity: 'Wrote a backup of everything',
      ...owns,
      summary: 'Begins to write a backup into a file',
      description: 'How far it is, in rows and files, is told by its job; its result names the file.',
      response: schemas.BackupWritingJob,
      status: 202,
      job: writingBackup,
      run: ({ principal }) => writingBackup.start(null, principal),
    }),
    operation('GET /backup/{file}', {
      id: 'readBackupFile',
      requiredRole: 'owner',
      summary: 'A backup that was written into a file',
      ...storedZip('plum-thread'),
    }),
    operation('POST /backup', {
      id: 'takeBackup',
      activity: 'Filled the empty database from an archive',
      ...owns,
      summary: 'Begins to fill the empty database from a backup',
      query: Named,
      body: 'file',
      response: schemas.BackupReadingJob,
      job: restoring,
      status: 202,
      run: async ({ query, request, principal }) => {
        const { id } = await receiveFile(fileName(new URL(request.url), query.name), pieces(request), principal.id);
        return restoring.start({ file: id }, principal);
      },
    }),
    operation('PUT /imports', {
      id: 'receiveFile',
      tag: 'Files',
      requiredRole: 'editor',
      summary: 'Takes a file to be imported',
      query: Named,
      body: 'file',
      response: schemas.ReceivedFile,
      status: 201,
      refuses: [413],
      run: ({ query, request, principal }) =>
        receiveFile(fileName(new URL(request.url), query.name), pieces(request), principal.id),
    }),
    operation('POST /imports/view', {
      id: 'viewFile',
      tag: 'Files',
      requiredRole: 'editor',
      summary: 'The columns of a file, with a few rows',
      body: schemas.FileRequest,
      example: { file: 'as it was received', typeId: 'hut', format: 'csv' },
      refusal: 'The file cannot be looked at.',
      response: schemas.FileView,
      status: 200,
      run: ({ body, principal }) => viewFile(body, principal.id),
    }),
    operation('POST /imports', {
      id: 'startImport',
      activity: 'Began an import',
      tag: 'Files',
      requiredRole: 'editor',
      touches: 'content',
      summary: 'Begins an import, or the trial of one',
      body: schemas.ImportRequest,
      example: {
        file: 'as it was received',
        typeId: 'hut',
        format: 'csv',
        targets: { Name: '@title', Beds: 'hut_beds' },
      },
      refusal: 'The import cannot begin.',
      response: schemas.ImportJob,
      status: 202,
      job: importing,
      run: ({ body, principal }) => startImport(body, principal),
    }),
    operation('GET /jobs/{jobId}', {
      id: 'readJob',
      ...jobs_,
      summary: 'How far some work is',
      response: schemas.Job,
      status: 200,
      run: ({ params, principal }) => readJob(params.jobId, principal.id),
    }),
    operation('DELETE /jobs/{jobId}', {
      id: 'cancelJob',
      ...jobs_,
      summary: 'Breaks some work off',
      response: schemas.Job,
      status: 200,
      run: ({ params, principal }) => cancelJob(params.jobId, principal.id),
    }),
    operation('GET /exports', {
      id: 'readExports',
      tag: 'Files',
      requiredRole: 'designer',
      summary: 'When the site was last written as files, for each address',
      response: schemas.ExportsBefore,
      status: 200,
      run: () => exportsBefore(),
    }),
    operation('POST /export', {
      id: 'startExport',
      activity: 'Exported the site as files',
      tag: 'Files',
      requiredRole: 'designer',
      summary: 'Begins to write the site as files',
      body: schemas.ExportRequest,
      example: { origin: 'https://huts.example', changed: true },
      response: schemas.ExportJob,
      job: exporting,
      status: 202,
      run: async ({ body, origin, principal }) => {
        const site = siteAddress(body.origin);
        // Refused before it begins where there is nothing to compare with.
        if (body.changed) await manifestBefore(site ?? '');
        return exporting.start({ site, own: origin, changed: body.changed }, principal);
      },
    }),
    operation('GET /export/{file}', {
      id: 'readExport',
      requiredRole: 'designer',
      summary: 'A site that was written as files',
      ...storedZip('site'),
    }),
    operation('GET /theme-file', {
      id: 'exportTheme',
      tag: 'Files',
      requiredRole: 'designer',
      summary: 'The theme as a file',
      response: 'file',
      status: 200,
      run: async () => {
        const file = await exportTheme();
        return new Response(`${JSON.stringify(file, null, 1)}\n`, {
          headers: {
            'content-type': 'application/json',
            'content-disposition': attachment(`theme-${slugOf(file.name) || 'site'}.json`),
          },
        });
      },
    }),
    operation('POST /theme-file/plan', {
      id: 'planTheme',
      tag: 'Files',
      requiredRole: 'designer',
      summary: 'What a theme’s file holds, and what would be done with it',
      body: schemas.Anything,
      example: { name: 'Ridge', version: 1 },
      response: schemas.ThemePlan,
      status: 200,
      run: ({ body }) => planTheme(body),
    }),
    operation('POST /theme-file', {
      id: 'takeTheme',
      activity: 'Took a theme in from a file',
      tag: 'Files',
      requiredRole: 'designer',
      touches: 'design',
      summary: 'Takes a theme in, by a mapping',
      body: schemas.ThemeTakeRequest,
      example: {
        file: { name: 'Ridge', version: 1 },
        mapping: {
          types: { hut: 'new' },
          fields: {},
          taxonomies: {},
          templates: {},
          rules: {},
          menus: {},
          theme: true,
        },
      },
      refusal: 'The mapping cannot be read.',
      response: schemas.ThemeTaken,
      status: 200,
      run: ({ body }) => takeTheme(body),
    }),
  ] as const;
}
