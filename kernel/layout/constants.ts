/** Bits, kinds, slots and sizes that both sides name; offsets.ts has the records. */

/** Bits of INSTANCE_FLAGS. A ray of a kind meets an instance when the bits overlap. */
export const CAMERA_RAYS = 1; // met by the camera's rays
export const SCATTERED_RAYS = 2; // met by scattered and mirrored rays
export const OPAQUE = 4; // stops a shadow ray
export const TRANSPARENT = 8; // clear glass and what has alpha: dims a shadow ray but lets it pass
export const LIGHT_SHAPES = 16; // a light's shape, met by scattered rays alone
export const UNTRANSFORMED = 32; // the transform is the identity, so the ray need not be moved
export const MOVING = 64; // turns while the shutter is open
export const LIGHT_SHAPE = 128; // a rectangle or a disc, not a mesh

/** Above these bits: one bit for each cutting plane that cuts the instance. */
export const CUT_SHIFT = 8;
export const MAX_PLANES = 4;

/** Bits of MATERIAL_FLAGS. */
export const THIN = 1; // a sheet without thickness, that does not bend light
export const UNLIT = 2; // shows its colour whatever the light
export const TEXTURED = 4; // has any texture
export const LAYERED = 8; // has a coat or a sheen
export const FROSTED = 16; // glass too rough to be a mirror

/** Slots of MATERIAL_TEXTURES. */
export const SLOT_BASE = 0; // colour, and alpha
export const SLOT_METAL_ROUGH = 1; // green roughness, blue metalness
export const SLOT_NORMAL = 2;
export const SLOT_OCCLUSION = 3; // red
export const SLOT_EMISSION = 4;
export const SLOT_TRANSMISSION = 5; // red
export const SLOT_COAT = 6; // red
export const SLOT_SHEEN = 7;
export const SLOT_SPECULAR = 8; // alpha
export const SLOT_SPECULAR_COLOUR = 9;
export const SLOT_COAT_ROUGHNESS = 10; // green
export const SLOT_SHEEN_ROUGHNESS = 11; // alpha
export const SLOT_ANISOTROPY = 12; // red and green direction, blue strength
export const SLOT_TRANSLUCENCY = 13; // alpha
export const SLOT_TRANSLUCENCY_COLOUR = 14;
export const SLOT_COAT_NORMAL = 15;
export const SLOTS = 16;

/** Where a texture's coordinates come from. */
export const MAP_FIRST_UV = 0; // the mesh's first set
export const MAP_SECOND_UV = 1; // its second
export const MAP_BOX = 2; // from the six sides of a box around the part, one texture a metre

/** Kinds of light. */
export const LIGHT_RECTANGLE = 0;
export const LIGHT_DISC = 1;
export const LIGHT_POINT = 2;
export const LIGHT_SPOT = 3;
export const LIGHT_SUN = 4;
export const LIGHT_TRIANGLE = 5;
export const LIGHT_ENVIRONMENT = 6; // the environment's image

/** Cells of FRAME_BACKDROP_INVERSE_TONE's gains. */
export const INVERSE_TONE_CELLS = 256;

/** Bits of FRAME_PASSES: what a pixel holds beyond its base. */
export const PASS_COMPONENTS = 1; // diffuse, specular, position, occlusion, shadow, translucent
export const PASS_MATTES = 2; // parts and finishes
export const PASS_APART = 4; // light by what it comes from, and layers; never without PASS_COMPONENTS

/** Cells of FRAME_FILTER's table. */
export const FILTER_CELLS = 256;

/** Side of the square of pixels that stops sampling together. */
export const CELL = 16;

/** Of the square within which a pixel's need is foreseen. Tiles are multiples of it. */
export const NEED_CELL = 32;

/** Energy tables over [roughness][cosine]: reflected share for a Fresnel factor F0 a + F90 b, and of
 *  sheen; then their cosine-weighted means over [roughness]. The cosine's grid is even in its root. */
export const ENERGY_CELLS = 32;
export const ENERGY_A = 0;
export const ENERGY_B = 4096;
export const ENERGY_SHEEN = 8192;
export const ENERGY_MEAN_A = 12288;
export const ENERGY_MEAN_B = 12416;
export const ENERGY_MEAN_SHEEN = 12544;
export const ENERGY_BYTES = 12672;

/** Cells of MATERIAL_GLASS along the cosine's root. */
export const GLASS_CELLS = 32;

/** What a tile holds for each pixel, f32 sums over the samples taken. */
export const PIXEL_COLOUR = 0; // linear Rec. 709
export const PIXEL_SCATTERED_SQ = 3; // sum of squared luminance of what did not come straight, for the variance
export const PIXEL_ALBEDO = 4;
export const PIXEL_NORMAL = 7;
export const PIXEL_DEPTH = 10; // metres along the line of sight
export const PIXEL_COVERAGE = 11; // 1 where a surface was met
export const PIXEL_GUIDE_COUNT = 12; // samples whose albedo counts: not those that glass mirrored away
export const PIXEL_ALPHA = 13; // 1 where nothing of the backdrop shows
export const PIXEL_COUNT = 14; // samples taken
export const PIXEL_GUIDE_DEPTH = 15; // metres to the first surface that is not clear glass; ten scenes where there is none; of known samples
export const PIXEL_UNSCATTERED = 16; // part of the colour that came straight, from what shines or through and off clear glass
export const PIXEL_SAMPLE_NEED = 19; // need of further samples beside the other pixels', once it is foreseen; 0 before
export const PIXEL_LUMINANCE_SQ = 20; // sum of squared luminance of all
export const PIXEL_FLOATS = 21;

/** With PASS_COMPONENTS, after the base. */
export const PIXEL_DIFFUSE = 21; // light that the first surface scattered diffusely
export const PIXEL_SPECULAR = 24; // and by its lobes
export const PIXEL_POSITION = 27; // metres in the world
export const PIXEL_OCCLUSION = 30; // 1 where the surroundings are open
export const PIXEL_UNSHADOWED = 31; // luminance that lights would give
export const PIXEL_SHADOWED = 32; // and that they do give
export const PIXEL_TRANSLUCENT = 33; // light that the first surface let through and scattered
export const PIXEL_COMPONENTS_FLOATS = 36;

/** What light comes from, as PASS_APART tells it: values of LIGHT_SOURCE. */
export const SOURCE_SURROUNDINGS = 0; // environment and backdrop
export const SOURCE_SUN = 1;
export const SOURCE_MODEL = 2; // its own lights, what shines of it, and what is not lit at all
export const SOURCE_LIGHT = 3; // the stage's first light; the next ones follow, the last holds all further ones
export const SOURCE_LIGHTS = 8;
export const SOURCES = 11;

/** With PASS_APART, after PASS_COMPONENTS. */
export const PIXEL_SOURCES = 36; // SOURCES times three
export const PIXEL_GROUND = 69; // light that the ground sends to the eye
export const PIXEL_GROUND_LOST = 72; // and what it would send further, were nothing in the way of its light
export const PIXEL_GROUND_COVER = 75; // share of the pixel
export const PIXEL_BACKDROP = 76; // the backdrop as the eye sees it
export const PIXEL_BACKDROP_LOST = 79; // and what a shadow catcher takes off it
export const PIXEL_BACKDROP_COVER = 82; // share of the pixel
export const PIXEL_SHADOW_COVER = 83; // share of it that a shadow catcher darkens
export const PIXEL_APART_FLOATS = 84;

/** With PASS_MATTES, after all else: part then material, each so many pairs of label bits and samples. */
export const MATTE_PAIRS = 4;
export const MATTES_FLOATS = 16;

/** Bytes of build scratch for one primitive or further reference to one, and of the fixed part. */
export const BUILD_BOX_BYTES = 32;
export const BUILD_NODE_BYTES = 48;
export const BUILD_SCRATCH_PER_PRIMITIVE = 196;
export const BUILD_SCRATCH_FIXED = 131072;

/** A worker's own scratch: ray blocks, stacks, and from 65536 on what rays that go together need. */
export const WORKER_BYTES = 114688;

/** Rays that go together at most. */
export const PACKET_RAYS = 16;

/** Planes of a set that each of the denoiser's levels reads or writes, f32 a pixel. */
export const DENOISE_R = 0; // colour without albedo
export const DENOISE_G = 1;
export const DENOISE_B = 2;
export const DENOISE_VARIANCE = 3; // of its luminance
export const DENOISE_LUMINANCE = 4;
export const DENOISE_SET = 5;

/** Planes of its guides. */
export const DENOISE_NORMAL = 0; // three, scaled
export const DENOISE_ALBEDO = 3; // three, scaled
export const DENOISE_DEPTH = 6;
export const DENOISE_UNSCATTERED = 7; // three, what is not filtered
export const DENOISE_NOISE = 10; // variance of luminance about the pixel, less its own
export const DENOISE_GUIDES = 11;

/** Depth of what lies outside the picture. */
export const DENOISE_FAR = 1e15;

/** Levels of the filter; at level k neighbours stand 2^k pixels apart. Preview renders have less to smooth. */
export const DENOISE_LEVELS = 5;
export const DENOISE_LEVELS_QUICK = 2;

/** Margin around the picture, in pixels: two neighbours of the last level. */
export const DENOISE_MARGIN = 16;

/** Steps of the tables by which light is graded: over √l / (1 + √l) of its luminance, and over the root of a linear value. */
export const GRADE_RATIO_CELLS = 2048;
export const GRADE_DISPLAY_CELLS = 4096;

/** Pixels around a plane of the comparison. */
export const PLANE_MARGIN = 8;
/** Scales at which the comparison looks for noise: 1, 2, 4 and 8 pixels. */
export const NOISE_SCALES = 4;
/** Rows that the noise of a pixel reaches up and down: five pixels of the coarsest scale. */
export const NOISE_REACH = 40;
