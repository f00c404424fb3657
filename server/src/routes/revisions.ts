import { api, type routes } from '../../../contract/src/index.ts';
import type { ComparisonFormat } from '../desk/comparisonFile.ts';
import { foreseenKeys, foreseenName } from '../desk/foreseen.ts';
import { NotFound } from '../errors.ts';
import type { Services } from '../http/http.ts';
import { asBytes, asFile, asJson, atDesk, underWay, type Handlers } from '../http/serve.ts';
import { withJson } from '../jobs/jobs.ts';
import { catalogueTexts } from '../projects/catalogues.ts';
import { findRevision, storedDocuments, storedProject } from '../projects/projects.ts';
import { cataloguesNamed } from '../store/references.ts';
import { matchesOf, remarkRevision, removeRevision, revisionsOf, titleOf } from '../store/revisions.ts';
import { mediaTypes } from './mediaTypes.ts';

const fileName = (what: string, format: ComparisonFormat): string => `${what}.${format === 'text' ? 'txt' : format}`;

export function revisionRoutes(services: Services): Handlers<typeof routes.revisions> {
  const { database, blobs, jobs, desk } = services;
  const effectOf = async (
    project: string,
    asked: { readonly was?: string | undefined; readonly is?: string | undefined },
    format: ComparisonFormat | 'whole',
    signal: AbortSignal,
  ): Promise<{ effect: Uint8Array; was: string; is: string }> => {
    const own = await findRevision(database, project, asked.was ?? null);
    const newest = (await revisionsOf(database, project)).at(-1)!;
    const other = asked.is === undefined ? newest : await findRevision(database, project, asked.is);
    const [was, is] = [own, other].map((row) => ({
      id: row.id,
      assemblyBlob: row.assemblyBlob,
      fileName: row.fileName,
      title: titleOf(row),
    }));
    const documents = await storedDocuments(database, project);
    const effect = await desk.question(
      { assemblyBlob: other.assemblyBlob, edits: null },
      { what: 'effect', was, is, documents, format },
      blobs,
      signal,
    );
    return { effect, was: own.id, is: other.id };
  };
  const found = async (key: string, sentence: string): Promise<Uint8Array> => {
    const bytes = await blobs.get(key);
    if (!bytes) throw new NotFound(sentence);
    return bytes;
  };
  return {
    changes: async ({ params, query, signal }) => {
      const { effect, ...revisions } = await effectOf(params.id, query, 'whole', signal);
      const start = Buffer.from(`${JSON.stringify(revisions).slice(0, -1)},`);
      return asJson(Buffer.concat([start, effect.subarray(1)]));
    },
    changesFile: async ({ params: { id, format }, query, signal }) => {
      const { effect } = await effectOf(id, query, format, signal);
      return asFile(effect, fileName('changes', format), mediaTypes[format]);
    },
    // Kept under what the documents are now, so who asks again later asks for something else.
    foresee: async ({ params }) => {
      const { id: project } = params;
      const { id: revision } = await findRevision(database, project, params.revision);
      const documents = await storedDocuments(database, project);
      const catalogues = await catalogueTexts(database, await cataloguesNamed(database, project));
      const name = foreseenName(revision, [...documents, ...catalogues]);
      if (await blobs.has(foreseenKeys(name).facts)) return { name, job: null };
      return underWay({ name, job: await jobs.add('foresee', { project, revision }, name, { once: true }) });
    },
    foreseen: async ({ params }) =>
      asJson(
        await found(
          foreseenKeys(params.name).facts,
          'That is not worked out, or something was changed meanwhile; ask for it anew.',
        ),
      ),
    foreseenPicture: async ({ params: { name, sheet, side } }) => {
      const bytes = await found(foreseenKeys(name).picture(sheet, side), 'There is no such picture; ask for it anew.');
      return asBytes(bytes, 'png', 'never');
    },
    // Any two lists of the project, or one in two variants; each of the revision that it counts.
    comparison: async ({ params: { id, format }, query, signal }) => {
      const { documents, revisions, catalogues = [] } = await storedProject(database, id);
      const sides = [
        { bill: query.was, variant: query.wasVariant },
        { bill: query.is, variant: query.isVariant },
      ] as const;
      const bytes = await desk.question(
        { assemblyBlob: revisions[0].assemblyBlob, edits: null },
        { what: 'comparison', format, sides, documents, revisions, catalogues },
        blobs,
        signal,
      );
      return asFile(bytes, fileName('comparison', format), mediaTypes[format]);
    },
    unsure: async ({ params }) => {
      const row = await findRevision(database, params.id, params.revision);
      const { unsure, answers, keys } = matchesOf(row);
      const said = new Map(answers.map(({ is, same }) => [is, same]));
      const parts = unsure.map((one): api.UnsurePart => ({
        ...one,
        key: keys[one.is] ?? one.is,
        same: said.get(one.is) ?? null,
      }));
      return { parts, keys };
    },
    answer: atDesk('answers', async ({ answers }, { params: { id: project, revision } }) => {
      await findRevision(database, project, revision);
      const payload = withJson({ project, revision }, `{"answers":${answers}}`);
      return underWay({ job: await jobs.add('recognise', payload, revision) });
    }),
    remark: async ({ params, body }) => {
      await remarkRevision(database, await findRevision(database, params.id, params.revision), body);
      return {};
    },
    remove: async ({ params }) => {
      const { id, project } = await findRevision(database, params.id, params.revision);
      if (!(await removeRevision(database, blobs, project, id)))
        throw new NotFound('There is no such revision; it may have been taken away already.');
      return {};
    },
  };
}
