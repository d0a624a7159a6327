/** Packages: what is chosen to be handed over, and what its audit found. */
import * as z from 'zod';
import { AUDIT_RULES } from '../core/handover/audit.js';
import { CODECS } from '../core/movie/movieOptions.js';
import { DELIVERY_FILE_TYPES } from '../core/image/fileTypes.js';
import { captionProblem } from '../core/handover/sheets/contact.js';
import { patternProblem } from '../core/plan/fileNames.js';
import { PAPER_NAMES } from '../core/handover/sheets/paper.js';

/** A run of a batch, of a still one frame of it where one is named. */
const handedRender = z.strictObject({ batch: z.int().positive(), run: z.string().min(1).max(200), frame: z.int().positive().optional() });
/** What {@link handedRender} reads. */
export type HandedRender = z.infer<typeof handedRender>;

/** Kinds of sheets: renders in a grid, a sun study by dates and hours, moving shots as strips, views on the plan, variants side by side. */
export const SHEET_KINDS = ['contact', 'sun', 'strips', 'views', 'variants'] as const;
/** One of {@link SHEET_KINDS}. */
export type SheetKind = (typeof SHEET_KINDS)[number];
/** Files that a sheet is written as. */
export const SHEET_TYPES = ['pdf', 'png', 'html'] as const;
/** One of {@link SHEET_TYPES}. */
export type SheetType = (typeof SHEET_TYPES)[number];

/** A text with tokens. @param problemOf says why one cannot be used, or null. */
const checkedPattern = (problemOf: (pattern: string) => string | null) =>
  z
    .string()
    .trim()
    .min(1)
    .max(200)
    .superRefine((pattern, context) => {
      const message = problemOf(pattern);
      if (message) context.addIssue({ code: 'custom', message });
    });

/** Which sheets, and how they are laid out. */
export const newSheets = z.strictObject({
  kinds: z.array(z.enum(SHEET_KINDS)).min(1).default(['contact']),
  types: z.array(z.enum(SHEET_TYPES)).min(1).default(['pdf']),
  paper: z.enum(PAPER_NAMES).default('A3'),
  across: z.boolean().default(true),
  columns: z.int().min(1).max(12).default(4),
  /** Millimetres that a render is wide on the contact sheet, instead of the columns. */
  renderWidth: z.number().min(10).max(800).optional(),
  /** What stands below a render on the contact sheet, with tokens; shot, view or frame, variant and revision where absent. */
  caption: checkedPattern(captionProblem).optional(),
});
/** What {@link newSheets} reads. */
export type NewSheets = z.infer<typeof newSheets>;

/** A package to be built. */
export const newPackage = z.strictObject({
  name: z.string().trim().min(1, 'Give the package a name.').max(80, 'A name has at most 80 letters.'),
  renders: z.array(handedRender).min(1, 'Choose at least one render.').max(2000),
  /** Only renders that were accepted. */
  acceptedOnly: z.boolean().default(false),
  /** Movies that were made of these runs. */
  movies: z.boolean().default(true),
  /** Sheets of them; none where absent. */
  sheet: newSheets.optional(),
  /** The plan of each batch as set file, the models as GLB, reports and decisions. */
  plans: z.boolean().default(true),
  models: z.boolean().default(true),
  reports: z.boolean().default(true),
  /** Types of files that are packed, as "png 16"; all where absent. */
  types: z.array(z.enum(DELIVERY_FILE_TYPES)).min(1).optional(),
  /** Pattern of the renders' names, as in a set's `names.moving`; as planned where absent. */
  names: checkedPattern((pattern) => patternProblem(pattern, true)).optional(),
  /** Renders are copies that tell how they were made: project, set, shot, view, frame, revision, identity. */
  tellHow: z.boolean().default(true),
  /** Only files that are new or otherwise than in packages of the set that were ready before. */
  onlyChanged: z.boolean().default(false),
});
/** What {@link newPackage} reads. */
export type NewPackage = z.infer<typeof newPackage>;

/** Something in a package that is not as it should be. */
export const auditFault = z.object({
  rule: z.enum(AUDIT_RULES),
  file: z.string(),
  expected: z.string(),
  found: z.string(),
  /** Why it is accepted, where somebody said so. */
  waived: z.string().optional(),
});

/** A package with what its check found. */
export const packageReply = z.object({
  id: z.int(),
  setId: z.int(),
  name: z.string(),
  /** Being put together, with open faults, ready to be handed over, or not made. */
  state: z.enum(['making', 'faults', 'ready', 'failed']),
  /** Files that are done, and of how many, while it is made. */
  progress: z.object({ done: z.int(), of: z.int(), what: z.enum(['files', 'audit']) }).nullable(),
  message: z.string().nullable(),
  created: z.string(),
  files: z.int(),
  bytes: z.int(),
  /** When its files were read last. */
  audited: z.string().nullable(),
  faults: z.array(auditFault),
  onlyChanged: z.boolean(),
  /** Names of its sheets that are PDF. */
  sheets: z.array(z.string()),
});
/** What {@link packageReply} reads. */
export type PackageReply = z.infer<typeof packageReply>;

/** A fault that is accepted, with the reason. */
export const newWaiver = z.strictObject({
  rule: z.enum(AUDIT_RULES),
  file: z.string().min(1).max(1000),
  reason: z.string().trim().min(1, 'Say why it is accepted.').max(500),
});

/** The program that makes movies: whether it came with the application, its version as it says it, and codecs that it cannot write. */
export const encoderReply = z.object({ shipped: z.boolean(), version: z.string(), lacks: z.array(z.enum(CODECS)) });
/** What {@link encoderReply} reads. */
export type EncoderReply = z.infer<typeof encoderReply>;

/** Sends a package: to a drop-off by its address, or into a folder of the server's machine. */
export const newDelivery = z.strictObject({ kind: z.enum(['dropOff', 'folder']), target: z.string().trim().min(1, 'Say where to.').max(1000) });
/** One sending of a package. */
export const deliveryReply = z.object({
  id: z.int(),
  packageId: z.int(),
  kind: z.enum(['dropOff', 'folder']),
  target: z.string(),
  state: z.enum(['sending', 'done', 'stopped', 'failed']),
  /** Bytes that arrived, and of how many. */
  done: z.int(),
  total: z.int(),
  message: z.string().nullable(),
  created: z.string(),
});
/** What {@link deliveryReply} reads. */
export type DeliveryReply = z.infer<typeof deliveryReply>;
