/** The stages that come with the application, in radii of the subject. */
export const STAGE_PRESETS = ['bright sweep', 'dark sweep', 'turning table', 'open sky', 'overcast court', 'clay room'] as const;
/** One of {@link STAGE_PRESETS}. */
export type StagePreset = (typeof STAGE_PRESETS)[number];

/** Colours as #rrggbb and radiance of a stage preset. */
export interface PresetDefinition {
  environment: [string, string, string, number];
  backdrop: [string, string, string, number];
  /** Azimuth clockwise from the model's front (+Z) seen from above, altitude, distance and edge in subject radii, radiance. */
  lights: { azimuth: number; altitude: number; distance: number; edge: number; colour: string; radiance: number }[];
  base: { colour: string; roughness: number; inner: number; outer: number } | null;
}

/** Environment, backdrop and lights of the stages that ship; colours sRGB, distances in radii of the subject. */
export const PRESET_DEFINITIONS: Record<StagePreset, PresetDefinition> = {
  'bright sweep': {
    environment: ['#ffffff', '#e8ecef', '#c9ccce', 0.42],
    backdrop: ['#dfe3e6', '#f1f2f2', '#f1f2f2', 0.9],
    lights: [
      { azimuth: -48, altitude: 52, distance: 4, edge: 1.1, colour: '#fff6ea', radiance: 40 },
      { azimuth: 118, altitude: 34, distance: 4.4, edge: 1.8, colour: '#eaf2ff', radiance: 2.6 },
    ],
    base: { colour: '#e9ebec', roughness: 0.55, inner: 1.3, outer: 5.5 },
  },
  'dark sweep': {
    environment: ['#3a4046', '#23272b', '#141618', 0.5],
    backdrop: ['#15181b', '#24282c', '#1b1e21', 1],
    lights: [
      { azimuth: -58, altitude: 48, distance: 4, edge: 1.2, colour: '#fff3e4', radiance: 34 },
      { azimuth: 142, altitude: 40, distance: 4.2, edge: 1, colour: '#dbe8ff', radiance: 26 },
      { azimuth: 70, altitude: 12, distance: 4.4, edge: 0.9, colour: '#eef2ff', radiance: 5 },
    ],
    base: { colour: '#3b4046', roughness: 0.35, inner: 1.2, outer: 5.5 },
  },
  // A table not much larger than the subject, in an even light from both sides.
  'turning table': {
    environment: ['#f4f2ee', '#dcdad6', '#a9a7a3', 0.5],
    backdrop: ['#c9cbcc', '#dcdddd', '#c4c5c6', 0.85],
    lights: [
      { azimuth: -40, altitude: 46, distance: 4, edge: 1.5, colour: '#fffaf2', radiance: 17 },
      { azimuth: 52, altitude: 38, distance: 4, edge: 1.5, colour: '#f6f8ff', radiance: 9 },
      { azimuth: 178, altitude: 50, distance: 4.4, edge: 1.2, colour: '#ffffff', radiance: 8 },
    ],
    base: { colour: '#8d8f90', roughness: 0.42, inner: 1.22, outer: 1.24 },
  },
  'overcast court': {
    environment: ['#f2f5f8', '#cfd5da', '#8f8f8b', 0.95],
    backdrop: ['#dfe4e8', '#e9ecee', '#cfd0ce', 0.9],
    lights: [],
    base: { colour: '#a9a8a3', roughness: 0.8, inner: 2.2, outer: 9 },
  },
  'clay room': {
    environment: ['#fbf7f2', '#f0e8df', '#cdbfb1', 0.62],
    backdrop: ['#e9ddd0', '#f1e8de', '#e6d9cb', 0.9],
    lights: [{ azimuth: -40, altitude: 60, distance: 3.6, edge: 2.2, colour: '#fff4e6', radiance: 7 }],
    base: { colour: '#e6d8c8', roughness: 0.7, inner: 1.4, outer: 5.5 },
  },
  'open sky': {
    environment: ['#7ba6d6', '#d5e2ec', '#8b8f8c', 0.6],
    backdrop: ['#7fabd6', '#dfe9f0', '#b9c4c9', 0.95],
    // A small far lamp stands for the sun, high over the left shoulder.
    lights: [{ azimuth: -52, altitude: 38, distance: 9, edge: 0.3, colour: '#fff1dc', radiance: 4600 }],
    base: null,
  },
};
