/** What the client asked for, recorded once; every set is checked against it as it is planned. */
import * as z from 'zod';
import { kindOf, type Shot, shotName } from '../shots/kinds.js';
import { DELIVERY_FILE_TYPES, fileTypeOf } from '../image/fileTypes.js';
import { PASS_IDS, passOf } from '../image/passes.js';
import { frameTime, parseRate, rateName } from '../units/rate.js';
import { groupByShotOutput, type Frame, shotIdOfOutput } from '../frame/frame.js';
import { type FormatSheet, effectiveSettings, fileFormats } from './formatSheet.js';

const side = z.int().min(16).max(16_384);
const sizeSchema = z.strictObject({ width: side, height: side });

/** A name as asked for: `*` any letters, `#` one digit, all else as it stands. */
const patternSchema = z.string().min(1).max(200);

/** Whatever is absent is not asked for. */
export const deliverySchema = z.strictObject({
  name: z.string().min(1).max(80),
  /** Sizes that are taken, pixels. */
  sizes: z.array(sizeSchema).min(1).max(20).optional(),
  rates: z.array(z.string().min(1).max(20)).min(1).max(10).optional(),
  /** File types and bits that must be among those of each shot. */
  files: z.array(z.enum(DELIVERY_FILE_TYPES)).min(1).max(DELIVERY_FILE_TYPES.length).optional(),
  passes: z.array(z.enum(PASS_IDS)).min(1).optional(),
  alpha: z.boolean().optional(),
  /** Of file names, without folders and ending. */
  names: patternSchema.optional(),
  /** Movies are made of the moving shots: H.264 with 4:2:0 colour takes even sizes only. */
  movie: z.literal('h264').optional(),
  /** Longest moving shot. */
  maxSeconds: z.number().positive().max(86_400).optional(),
  /** Pictures of the whole set. */
  maxFrames: z.int().min(1).max(1_000_000).optional(),
});

/** What {@link deliverySchema} reads. */
export type Delivery = z.infer<typeof deliverySchema>;

/** Something that the client's delivery does not allow. */
export interface DeliveryFinding {
  /** Id of the shot; absent where it is the set's. */
  shot?: string;
  message: string;
  /** What to change. */
  fix: string;
}

/** Level 5.2 of H.264 (ITU-T H.264, table A-1): macroblocks of a picture. */
const MAX_MACROBLOCKS = 36_864;

/** What matches names as a pattern has them: `*` any letters, `#` one digit. */
export function matcher(pattern: string): RegExp {
  const body = pattern
    .replace(/[.+?^${}()|[\]\\]/g, '\\$&')
    .replaceAll('*', '.*')
    .replaceAll('#', '\\d');
  return new RegExp(`^${body}$`, 'u');
}

const times = ({ width, height }: { width: number; height: number }): string => `${width} × ${height}`;

/** What of one run of frames is not as asked for. */
function ofRun(delivery: Delivery, sheet: FormatSheet, shot: Shot, own: readonly Frame[]): Omit<DeliveryFinding, 'shot'>[] {
  const found: Omit<DeliveryFinding, 'shot'>[] = [];
  const { size } = own[0]!;
  const { moving } = kindOf(shot);
  if (delivery.sizes && !delivery.sizes.some((s) => s.width === size.width && s.height === size.height))
    found.push({ message: `is ${times(size)}, which is not accepted`, fix: `Use ${delivery.sizes.map(times).join(' or ')}.` });
  if (moving && delivery.rates && !delivery.rates.some((r) => frameTime(1, parseRate(r)) === frameTime(1, parseRate(sheet.rate))))
    found.push({ message: `runs at ${rateName(sheet.rate)}`, fix: `Use ${delivery.rates.map(rateName).join(' or ')} frames per second.` });
  const files = fileFormats(sheet).map(fileTypeOf);
  const lacking = delivery.files?.filter((f) => !files.includes(f)) ?? [];
  if (lacking.length > 0) found.push({ message: `has no ${lacking.join(', ')}`, fix: 'Add it to the files.' });
  const passes = delivery.passes?.filter((p) => !sheet.passes.includes(p)) ?? [];
  if (passes.length > 0) found.push({ message: `has no ${passes.map((p) => passOf(p).label).join(', ')}`, fix: 'Add it to the passes.' });
  if (delivery.alpha !== undefined && delivery.alpha !== sheet.alpha)
    found.push({
      message: sheet.alpha ? 'has a clear backdrop' : 'has no alpha',
      fix: `Switch the transparent backdrop ${sheet.alpha ? 'off' : 'on'}.`,
    });
  if (delivery.names) {
    const fits = matcher(delivery.names);
    const wrong = own.find((f) => !f.passNames.every((n) => fits.test(n.slice(n.lastIndexOf('/') + 1))));
    if (wrong)
      found.push({ message: `is named "${wrong.name.slice(wrong.name.lastIndexOf('/') + 1)}"`, fix: `File names must match ${delivery.names}.` });
  }
  if (moving && delivery.movie) {
    if (size.width % 2 || size.height % 2) found.push({ message: `is ${times(size)}; H.264 takes even sizes only`, fix: 'Make both sides even.' });
    else if (Math.ceil(size.width / 16) * Math.ceil(size.height / 16) > MAX_MACROBLOCKS)
      found.push({ message: `is ${times(size)}, more than H.264 takes at level 5.2`, fix: 'Make it at most 4096 × 2304.' });
  }
  const seconds = moving ? frameTime(own.length, parseRate(sheet.rate)) : 0;
  if (delivery.maxSeconds !== undefined && seconds > delivery.maxSeconds)
    found.push({ message: `lasts ${seconds.toFixed(2)} s`, fix: `Make it at most ${delivery.maxSeconds} s.` });
  return found;
}

/** Every point at which the frames of a set are not as the delivery asks. */
export function deliveryFindings(delivery: Delivery, sheet: FormatSheet, shots: readonly Shot[], frames: readonly Frame[]): DeliveryFinding[] {
  const found: DeliveryFinding[] = [];
  if (delivery.maxFrames !== undefined && frames.length > delivery.maxFrames)
    found.push({ message: `The set has ${frames.length} renders.`, fix: `Make at most ${delivery.maxFrames}.` });
  for (const [run, own] of groupByShotOutput(frames)) {
    const shot = shots.find((s) => s.id === shotIdOfOutput(run))!;
    for (const f of ofRun(delivery, effectiveSettings(sheet, shot), shot, own))
      found.push({ shot: shot.id, message: `${shotName(shot)} ${f.message}.`, fix: f.fix });
  }
  return found;
}
