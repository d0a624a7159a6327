/** What a picture can be written as: each pass, what it is made of, and whether it may be graded. */

/** A pass: one of the images that a render is made of. */
export interface Pass {
  id: string;
  label: string;
  /** One line that says what it shows. */
  help: string;
  /** What the engine must gather for it: the base alone, the parts of light, the mattes, or a picture of its own. */
  needs: 'base' | 'light' | 'mattes' | 'own';
  /** Channels of its float form. */
  channels: readonly string[];
  /** Numbers, not a picture: never graded, never denoised. */
  data: boolean;
}

const rgb = ['R', 'G', 'B'] as const;
const xyz = ['X', 'Y', 'Z'] as const;

/** All passes, in the order in which they are offered. */
export const PASSES = [
  { id: 'beauty', label: 'beauty', help: 'The render itself.', needs: 'base', channels: rgb, data: false },
  { id: 'diffuse', label: 'diffuse', help: 'Light that the first surface scatters in all directions.', needs: 'light', channels: rgb, data: false },
  { id: 'specular', label: 'specular', help: 'Light that the first surface reflects, sharp or glossy.', needs: 'light', channels: rgb, data: false },
  { id: 'emission', label: 'emission', help: 'Light of emissive surfaces and of the backdrop.', needs: 'light', channels: rgb, data: false },
  {
    id: 'occlusion',
    label: 'ambient occlusion',
    help: 'White where surfaces are open to their surroundings, dark in corners.',
    needs: 'light',
    channels: ['Y'],
    data: false,
  },
  { id: 'shadow', label: 'shadow', help: 'Share of the direct light that arrives.', needs: 'light', channels: ['Y'], data: false },
  { id: 'depth', label: 'depth', help: 'Metres along the line of sight.', needs: 'base', channels: ['Z'], data: true },
  { id: 'position', label: 'position', help: 'Position in the model, in metres.', needs: 'light', channels: xyz, data: true },
  { id: 'normal', label: 'normal', help: 'Direction that the surface faces.', needs: 'base', channels: xyz, data: true },
  { id: 'albedo', label: 'albedo', help: 'Base colour without light.', needs: 'base', channels: rgb, data: true },
  { id: 'parts', label: 'part mattes', help: 'Which part covers how much of each pixel (Cryptomatte).', needs: 'mattes', channels: rgb, data: true },
  {
    id: 'materials',
    label: 'material mattes',
    help: 'Which material covers how much of each pixel (Cryptomatte).',
    needs: 'mattes',
    channels: rgb,
    data: true,
  },
  { id: 'alpha', label: 'alpha', help: 'White where the model covers the backdrop.', needs: 'base', channels: ['A'], data: true },
  { id: 'clay', label: 'clay', help: 'The model in one matt white, in the same light.', needs: 'own', channels: rgb, data: false },
  { id: 'lines', label: 'lines', help: 'Creases, outlines and open edges as drawn lines.', needs: 'own', channels: ['Y'], data: false },
] as const satisfies readonly Pass[];

/** Id of a pass. */
export type PassId = (typeof PASSES)[number]['id'];
/** Ids of all passes, in their order. */
export const PASS_IDS = PASSES.map((p) => p.id) as [PassId, ...PassId[]];

/** The pass of that id. */
export function passOf(id: PassId): Pass {
  return PASSES.find((p) => p.id === id)!;
}
