/** For what size of subject a template is meant. */

/** Longest side of a subject in metres, from and to. */
export interface SubjectSize {
  from?: number;
  to?: number;
}

/** Whether a subject of this longest side, metres, is of the size that is meant. */
export const isMeantFor = ({ from = 0, to = Infinity }: SubjectSize, size: number): boolean => size >= from && size <= to;
