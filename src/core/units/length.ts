/** Units of length that a file may be drawn in, in metres. */
export const METRES = { mm: 0.001, cm: 0.01, m: 1, km: 1000, in: 0.0254, ft: 0.3048 } as const;

/** A key of {@link METRES}. */
export type LengthUnit = keyof typeof METRES;

/** Units of length in words. */
export const UNIT_NAMES: Readonly<Record<LengthUnit, string>> = {
  mm: 'millimetres',
  cm: 'centimetres',
  m: 'metres',
  km: 'kilometres',
  in: 'inches',
  ft: 'feet',
};

/** Units of length that are read and shown. */
export const LENGTH_UNITS = Object.keys(METRES) as LengthUnit[];
