/** The files need more room than there is. */
import type { Finding, Found } from '../finding.js';

/** What must stay free beside the files, as a share of them: they are foreseen, not known. */
const SPARE = 0.25;

const megabytes = (bytes: number): string => `${Math.ceil(bytes / 1e6).toLocaleString('en')} MB`;

/** The disk has less room than the forecast asks for. */
export const noRoom: Finding = {
  id: 'no-room',
  title: 'No room on the disk',
  area: 'format',
  needs: 'plan',
  inspect({ output }): Found[] {
    if (!output || output.needed === null) return [];
    const { free, needed } = output;
    if (free >= needed * (1 + SPARE)) return [];
    const sizes = `The files need about ${megabytes(needed)}, and ${megabytes(Math.max(0, free))} are free.`;
    return [
      free < needed
        ? { severity: 'fault', message: `${sizes} Free some, or make smaller or fewer files.`, about: { full: true } }
        : { severity: 'doubt', message: `${sizes} That leaves little room.`, about: { full: false } },
    ];
  },
};
