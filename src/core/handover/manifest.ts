/** What a package holds, told by the package itself: each file with what it must be, so that anybody can check it. */
import * as z from 'zod';
import { deliverySchema } from '../plan/delivery.js';

/** What a manifest calls itself. */
export const PACKAGE_FORMAT = 'cold-easel-package';
/** Name of the manifest in a package. */
export const MANIFEST_FILE = 'manifest.json';
/** Name of the list of SHA-256 sums in a package, a line each as `sha256sum -c` reads it. */
export const CHECKSUMS_FILE = 'checksums.sha256';

/** What a package can hold. */
export const FILE_KINDS = ['render', 'movie', 'sheet', 'plan', 'model', 'report'] as const;
/** One of {@link FILE_KINDS}. */
export type FileKind = (typeof FILE_KINDS)[number];

const sha256 = z.string().regex(/^[0-9a-f]{64}$/, 'is no SHA-256');

/** Paths are relative, with "/" between their parts, and lead out of nothing. */
const packagePath = z
  .string()
  .min(1)
  .max(1000)
  .refine(
    (p) => !p.startsWith('/') && !p.includes('\\') && p.split('/').every((part) => part !== '' && part !== '.' && part !== '..'),
    'leads out of the package',
  );

const common = { path: packagePath, bytes: z.int().min(0), sha256 };
const pixels = { width: z.int().min(1), height: z.int().min(1) };

/** A render in the manifest. */
export const renderEntry = z.strictObject({
  kind: z.literal('render'),
  ...common,
  ...pixels,
  /** Type and bits a channel, as "png 16". */
  type: z.string(),
  alpha: z.boolean(),
  /** Key of its run in the manifest, and its number there. */
  run: z.string(),
  number: z.int(),
  /** "all" where the file holds every pass. */
  pass: z.string(),
  identity: z.string(),
  /** SHA-256 of the rendered file, where this one is a copy that tells how it was made. */
  source: sha256.optional(),
});
/** A movie in the manifest. */
export const movieEntry = z.strictObject({
  kind: z.literal('movie'),
  ...common,
  ...pixels,
  /** Codec, as "h264". */
  type: z.string(),
  run: z.string(),
  /** Frames a second, as the plan writes it. */
  rate: z.string(),
  frames: z.int().min(1),
  /** Codec of its sound; absent where it has none. */
  sound: z.string().optional(),
});
const plainEntry = z.strictObject({ kind: z.enum(['sheet', 'plan', 'model', 'report']), ...common });

/** Any file in the manifest. */
export const fileEntry = z.discriminatedUnion('kind', [renderEntry, movieEntry, plainEntry]);
/** What {@link fileEntry} reads. */
export type FileEntry = z.infer<typeof fileEntry>;
/** What {@link renderEntry} reads. */
export type RenderEntry = z.infer<typeof renderEntry>;
/** What {@link movieEntry} reads. */
export type MovieEntry = z.infer<typeof movieEntry>;

/** A run of frames, or stills, in the manifest. */
export const packageRun = z.strictObject({
  key: z.string(),
  /** Name of the shot, with variant and size where it has several. */
  name: z.string(),
  /** Letter of the revision, and number of the batch. */
  revision: z.string(),
  batch: z.int(),
  moving: z.boolean(),
  rate: z.string(),
  ...pixels,
  /** Numbers of all planned frames that belong into the package. */
  numbers: z.array(z.int()),
});
/** What {@link packageRun} reads. */
export type PackageRun = z.infer<typeof packageRun>;

const paths = z.array(packagePath);
/** Paths of files by what became of them since earlier packages: new, otherwise, or not in this one. */
export const packageChanges = z.strictObject({ added: paths, changed: paths, removed: paths });
/** What {@link packageChanges} reads. */
export type PackageChanges = z.infer<typeof packageChanges>;

/** What a package holds, and what it was made from. */
export const manifestSchema = z.strictObject({
  format: z.literal(PACKAGE_FORMAT, 'This is no manifest of a package.'),
  version: z.literal(1, 'The package is of a later version of Cold Easel.'),
  application: z.string(),
  name: z.string(),
  project: z.string(),
  set: z.string(),
  /** ISO 8601. */
  made: z.string(),
  /** Whether it holds only what changed since an earlier delivery. */
  onlyChanged: z.boolean(),
  /** Since earlier packages of the set; absent of the first. */
  since: packageChanges.optional(),
  /** Content hashes of the models, by the letters of their revisions. */
  models: z.record(z.string(), z.string()),
  /** What the client asked for, where that is recorded. */
  delivery: deliverySchema.optional(),
  runs: z.array(packageRun),
  files: z.array(fileEntry),
});
/** What {@link manifestSchema} reads. */
export type Manifest = z.infer<typeof manifestSchema>;

/** The lines that `sha256sum -c` takes. Names with a backslash or line break have no place in a package. */
export const checksumLines = (files: readonly Pick<FileEntry, 'path' | 'sha256'>[]): string =>
  files.map(({ path, sha256: sum }) => `${sum}  ${path}\n`).join('');
