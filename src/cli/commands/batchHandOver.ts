/** `easel batch movie` and `easel batch package`: what leaves the studio, made by a running server and fetched. */
import { Option } from 'commander';
import type { BatchReply } from '../../contract/batches.js';
import { SHEET_KINDS, SHEET_TYPES } from '../../contract/packages.js';
import { DELIVERY_FILE_TYPES } from '../../core/image/fileTypes.js';
import { patternProblem } from '../../core/plan/fileNames.js';
import { CAPTION_TOKENS } from '../../core/handover/sheets/contact.js';
import { PAPER_NAMES } from '../../core/handover/sheets/paper.js';
import { CODECS } from '../../core/movie/movieOptions.js';
import { type Command, FaultsFound, InputError, type Say } from '../command.js';
import { numberOption } from '../numberOption.js';
import { callServer, refuseOverwriting, saveFrom, type ServerOption, serverOption } from '../serverCalls.js';
import { BATCH_NUMBER, batchByNumber } from './batchByNumber.js';

const POLL_MS = 500;

/** Asks until there is an answer that counts, saying what changes meanwhile. */
async function until<T>(look: () => Promise<T>, isOver: (now: T) => boolean, tell: (now: T) => string | null, say: Say): Promise<T> {
  for (let told: string | null = null; ;) {
    const now = await look();
    if (isOver(now)) return now;
    const line = tell(now);
    if (line !== null && line !== told) say((told = line));
    await new Promise((r) => setTimeout(r, POLL_MS));
  }
}

/** Ids of the batch's runs of frames that have finished frames. */
async function runsOf({ id, setId }: BatchReply, options: ServerOption): Promise<string[]> {
  const results = await callServer(options, 'GET /sets/:id/results', { params: { id: setId } });
  return [...new Set(results.filter((r) => r.batch === id && r.done > 0).map((r) => r.run))];
}

interface MovieOptions extends ServerOption {
  shot: string;
  codec?: string;
  rate?: string;
  date?: string;
  out: string;
}

/** `easel batch movie`. */
export const batchMovie: Command<MovieOptions> = {
  name: 'movie',
  summary: 'make a movie of a shot of a batch, and save it',
  argument: BATCH_NUMBER,
  options: [
    serverOption(),
    new Option('--shot <id>', 'id of the shot in the set file').makeOptionMandatory(),
    new Option('--codec <name>', 'how it is encoded').choices([...CODECS]).default('h264'),
    new Option('--rate <rate>', 'frames per second, as 24 or 30000/1001; as planned where it is left out'),
    new Option('--date <day>', 'one day of a sun study, as 2026-06-21'),
    new Option('--out <file>', 'where to save it').makeOptionMandatory(),
  ],
  async run(number, options, say) {
    const { shot, codec, rate, date, out } = options;
    refuseOverwriting(out);
    const { id } = await batchByNumber(number, options);
    const asked = { shot, ...(date !== undefined && { date }), options: { codec, ...(rate !== undefined && { rate }) } };
    const made = await callServer(options, 'POST /batches/:id/clips', { params: { id }, body: asked });
    const now = await until(
      async () => (await callServer(options, 'GET /batches/:id', { params: { id } })).clips.find((c) => c.id === made.id),
      (clip) => clip?.state !== 'making',
      () => 'the movie is being made',
      say,
    );
    if (now?.state !== 'ready') throw new Error(now?.message ?? 'The movie was deleted meanwhile.');
    await saveFrom(options, 'GET /clips/:id/movie', { params: { id: now.id } }, out);
    say(`${out}: ${now.fileName}`);
    return { file: out, movie: now };
  },
};

interface PackageOptions extends ServerOption {
  name: string;
  sheets?: string;
  sheetType?: (typeof SHEET_TYPES)[number];
  paper?: (typeof PAPER_NAMES)[number];
  caption?: string;
  renderWidth?: number;
  accepted?: boolean;
  withoutMovies?: boolean;
  withoutModels?: boolean;
  withoutMetadata?: boolean;
  names?: string;
  types?: string;
  out: string;
}

/** Values out of a list. @param what each is called. Throws InputError that tells which there are. */
function listed<T extends string>(text: string, all: readonly T[], option: string, what: string): T[] {
  return text.split(',').map((word) => {
    const found = all.find((value) => value === word.trim());
    if (!found) throw new InputError(`${option}: "${word.trim()}" is no ${what}; there are ${all.join(', ')}.`);
    return found;
  });
}

/** The pattern itself. Throws InputError where it cannot be used. */
function checkedNames(pattern: string): string {
  const problem = patternProblem(pattern, true);
  if (problem) throw new InputError(`--names: ${problem}`);
  return pattern;
}

/** `easel batch package`. */
export const batchPackage: Command<PackageOptions> = {
  name: 'package',
  summary: 'pack the renders of a batch with movies and sheets, audit them, and save the archive',
  argument: BATCH_NUMBER,
  options: [
    serverOption(),
    new Option('--name <name>', 'name of the package').default('Package'),
    new Option('--sheets <list>', `sheets that go with it: ${SHEET_KINDS.join(', ')}`),
    new Option('--sheet-type <type>', 'files of the sheets').choices([...SHEET_TYPES]).default('pdf'),
    new Option('--paper <size>', 'pages of the sheets').choices([...PAPER_NAMES]).default('A3'),
    new Option('--caption <pattern>', `captions of the contact sheet, with ${CAPTION_TOKENS.map((t) => `{${t}}`).join(' ')}`),
    numberOption('--render-width', 'width of renders on the contact sheet in mm, instead of four columns', 10, 800),
    new Option('--accepted', 'renders that were accepted in Review alone'),
    new Option('--without-movies', 'leave out movies that were made of the shots'),
    new Option('--without-models', 'leave out the models'),
    new Option('--names <pattern>', 'names of the renders, such as {revision}/{shot}/{view}_{frame:4}; as planned without it'),
    new Option('--types <list>', 'file types that go in, such as "png 16"; all without it'),
    new Option('--without-metadata', 'pack the rendered files themselves, without metadata of how they were made'),
    new Option('--out <file>', 'where to save the ZIP').makeOptionMandatory(),
  ],
  async run(number, options, say) {
    refuseOverwriting(options.out);
    const batch = await batchByNumber(number, options);
    const runs = await runsOf(batch, options);
    if (runs.length === 0) throw new InputError(`Batch ${batch.number} has no finished frame yet; nothing can be packed.`);
    const { name, names, types, sheets, sheetType, paper, caption, renderWidth, accepted, withoutMovies, withoutModels, withoutMetadata, out } =
      options;
    const asked = {
      name,
      renders: runs.map((run) => ({ batch: batch.id, run })),
      acceptedOnly: accepted === true,
      movies: !withoutMovies,
      models: !withoutModels,
      tellHow: !withoutMetadata,
      ...(names !== undefined && { names: checkedNames(names) }),
      ...(types !== undefined && { types: listed(types, DELIVERY_FILE_TYPES, '--types', 'file type') }),
      ...(sheets !== undefined && {
        sheet: {
          kinds: listed(sheets, SHEET_KINDS, '--sheets', 'sheet'),
          types: [sheetType],
          paper,
          caption,
          renderWidth,
        },
      }),
    };
    const { id } = await callServer(options, 'POST /sets/:id/packages', { params: { id: batch.setId }, body: asked });
    const made = await until(
      () => callServer(options, 'GET /packages/:id', { params: { id } }),
      (now) => now.state !== 'making',
      ({ progress }) => progress && `${progress.what === 'audit' ? 'auditing' : 'packing'}: ${progress.done} of ${progress.of} files`,
      say,
    );
    if (made.state === 'failed') throw new Error(made.message ?? 'The package could not be made.');
    if (made.state === 'faults') {
      for (const f of made.faults) say(`${f.file}: expected ${f.expected}, found ${f.found}`);
      throw new FaultsFound(made);
    }
    await saveFrom(options, 'GET /packages/:id/download', { params: { id } }, out);
    say(`${out}: ${made.files} files, all as planned`);
    return { file: out, package: made };
  },
};
