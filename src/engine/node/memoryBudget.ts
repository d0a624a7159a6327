/** How much of the machine's memory frames in work may take together. */
import { totalmem } from 'node:os';

/** Share of the machine's memory. */
const SHARE = 0.5;
/** Asking the system takes its time, and it does not change. */
const MEMORY = totalmem();

/** Bytes: COLD_EASEL_FRAMES_MB, else half of the memory. */
export function framesBudget(): number {
  const set = Number(process.env.COLD_EASEL_FRAMES_MB);
  return set > 0 ? set * 2 ** 20 : SHARE * MEMORY;
}
