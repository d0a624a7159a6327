// Written by npm run layout from schema.ts; change that.

/** Four-wide node: planes as structure of arrays, then four child references. child >= 0: byte offset of a node from the tree's base; child < 0: ~offset of a packet (in a mesh tree) or ~index of an instance (in a scene tree). Empty slots are +inf/-inf. */
export const NODE_MIN = 0; // f32[12] x[4] y[4] z[4]
export const NODE_MAX = 48; // f32[12] x[4] y[4] z[4]
export const NODE_CHILD = 96; // i32[4]
export const NODE_BYTES = 128;

/** Leaf packet of four triangles: three vertices as structure of arrays, then four ids. Unfilled lanes repeat the first triangle. */
export const BLOCK_V0 = 0; // f32[12] x[4] y[4] z[4]
export const BLOCK_V1 = 48; // f32[12] x[4] y[4] z[4]
export const BLOCK_V2 = 96; // f32[12] x[4] y[4] z[4]
export const BLOCK_ID = 144; // u32[4]
export const BLOCK_BYTES = 160;

/** A mesh: its tree and what shading needs. Pointers are absolute; 0 means absent. */
export const MESH_TREE = 0; // u32 base of the tree
export const MESH_ROOT = 4; // i32 reference of the root
export const MESH_INDEX = 8; // u32 pointer to u32[3] a triangle
export const MESH_NORMAL = 12; // u32 pointer to f32[3] a vertex, or 0
export const MESH_UV = 16; // u32 pointer to f32[2] a vertex, or 0
export const MESH_COLOUR = 20; // u32 pointer to f32[3] a vertex, linear, or 0
export const MESH_UV_SECOND = 24; // u32 pointer to f32[2] a vertex, or 0
export const MESH_BYTES = 32;

/** An instance of a mesh in the scene, or the shape of a light. Those of one part lie together. */
export const INSTANCE_INVERSE = 0; // f32[12] world to object, row-major 3x4
export const INSTANCE_MESH = 48; // u32 pointer to the mesh record; of a LIGHT_SHAPE, to its light
export const INSTANCE_MATERIAL = 52; // u32 pointer to the material record
export const INSTANCE_FLAGS = 56; // u32 see below
export const INSTANCE_PART = 60; // u32 index of the part
export const INSTANCE_FIRST = 64; // u32 pointer to the first instance of the same part
export const INSTANCE_COUNT = 68; // u32 instances of the same part
export const INSTANCE_LIGHT_PDF = 72; // f32 chance a square metre that light is drawn from it; 0 = never
export const INSTANCE_MATTE_ID = 76; // u32 hash of the part's path, for mattes
export const INSTANCE_SIZE = 80; // f32 metres a unit of its own space, for box mapping
export const INSTANCE_BYTES = 96;

/** A material: metallic-roughness as in glTF 2.0 with its ratified extensions. */
export const MATERIAL_BASE = 0; // f32[3] linear base colour
export const MATERIAL_ALPHA = 12; // f32 0..1
export const MATERIAL_METALNESS = 16; // f32 0..1
export const MATERIAL_ROUGHNESS = 20; // f32 0..1 perceptual
export const MATERIAL_TRANSMISSION = 24; // f32 0..1
export const MATERIAL_IOR = 28; // f32 >= 1
export const MATERIAL_SPECULAR = 32; // f32 0..1 weight of the dielectric highlight
export const MATERIAL_SPECULAR_COLOUR = 36; // f32[3] its colour at normal incidence
export const MATERIAL_EMISSION = 48; // f32[3] radiance
export const MATERIAL_COAT = 60; // f32 0..1 clear coat
export const MATERIAL_COAT_ROUGHNESS = 64; // f32 0..1
export const MATERIAL_SHEEN = 68; // f32[3] colour of the sheen, 0 = none
export const MATERIAL_SHEEN_ROUGHNESS = 80; // f32 0..1
export const MATERIAL_ANISOTROPY = 84; // f32 0..1
export const MATERIAL_ANISOTROPY_COS = 88; // f32 of its turn from the tangent
export const MATERIAL_ANISOTROPY_SIN = 92; // f32
export const MATERIAL_ABSORPTION = 96; // f32[3] a metre, inside a solid body
export const MATERIAL_TRANSLUCENCY = 108; // f32 0..1 share of diffuse light that passes a thin sheet
export const MATERIAL_TRANSLUCENCY_COLOUR = 112; // f32[3]
export const MATERIAL_ALPHA_MODE = 124; // u32 0 opaque, 1 mask, 2 blend
export const MATERIAL_CUTOFF = 128; // f32 of the mask
export const MATERIAL_NORMAL_SCALE = 132; // f32
export const MATERIAL_OCCLUSION = 136; // f32 0..1 strength of the occlusion texture, in preview renders
export const MATERIAL_FLAGS = 140; // u32 see below
export const MATERIAL_TEXTURES = 144; // u32[16] pointers to texture uses, by the slots below, or 0
export const MATERIAL_GLASS = 208; // u32 pointer to f32[2][GLASS_CELLS], energy of rough glass from outside and inside
export const MATERIAL_MATTE_ID = 212; // u32 hash of the material's name, for mattes
export const MATERIAL_COAT_NORMAL_SCALE = 216; // f32
export const MATERIAL_BYTES = 224;

/** How a material uses a texture: which, how its bytes are decoded, and where it lies. */
export const USE_TEXTURE = 0; // u32 pointer to a texture record
export const USE_LUT = 4; // u32 pointer to f32[256], byte to value
export const USE_MATRIX = 8; // f32[6] two rows: u' = m0 u + m1 v + m2, v' = m3 u + m4 v + m5
export const USE_MAPPING = 32; // u32 see below
export const USE_BYTES = 40;

/** A texture, 8 bits a channel. */
export const TEXTURE_WIDTH = 0; // u32
export const TEXTURE_HEIGHT = 4; // u32
export const TEXTURE_TEXELS = 8; // u32 pointer to rgba8, rows from the top
export const TEXTURE_WRAP_U = 12; // u32 0 repeat, 1 clamp, 2 mirror
export const TEXTURE_WRAP_V = 16; // u32 0 repeat, 1 clamp, 2 mirror
export const TEXTURE_BYTES = 32;

/** What gives light, one record each; emissive meshes give one a triangle. */
export const LIGHT_KIND = 0; // u32 see below
export const LIGHT_PROBABILITY = 4; // f32 chance that it is the one drawn
export const LIGHT_AREA = 8; // f32 square metres
export const LIGHT_OUTER = 12; // f32 cosine of a spot's half cone; of a sun, 1 less that of its disc, 0 = a point
export const LIGHT_CENTRE = 16; // f32[3] of a triangle, its first vertex
export const LIGHT_INNER = 28; // f32 cosine of a spot's half cone of full light
export const LIGHT_U = 32; // f32[3] whole edge; of a disc, a radius; of a triangle, an edge
export const LIGHT_V = 48; // f32[3]
export const LIGHT_NORMAL = 64; // f32[3] unit; the way that a spot or a sun shines
export const LIGHT_RADIANCE = 80; // f32[3] radiance; of a point or spot, intensity; of a sun without disc, irradiance
export const LIGHT_SOURCE = 92; // u32 what its light counts as, apart from the rest
export const LIGHT_BYTES = 96;

/** An equirectangular environment: its middle column looks to -Z, its rows go from the zenith down. */
export const ENV_WIDTH = 0; // u32
export const ENV_HEIGHT = 4; // u32
export const ENV_TEXELS = 8; // u32 pointer to f32[3] a texel
export const ENV_MARGINAL_CDF = 12; // u32 pointer to f32[height + 1], cumulative chance of the rows
export const ENV_CONDITIONAL_CDF = 16; // u32 pointer to f32[height][width + 1], of the columns in each row
export const ENV_COS = 20; // f32 of its turn about the vertical, counterclockwise from above
export const ENV_SIN = 24; // f32
export const ENV_STRENGTH = 28; // f32
export const ENV_BYTES = 32;

/** A cutting plane: what lies on the side its normal points to is cut away. */
export const PLANE_NORMAL = 0; // f32[3] unit
export const PLANE_OFFSET = 12; // f32 dot(normal, x) on the plane, when the shutter opens
export const PLANE_CHANGE = 16; // f32 added until it closes
export const PLANE_BYTES = 32;

/** A camera at one moment. */
export const CAMERA_EYE = 0; // f32[3]
export const CAMERA_CORNER = 12; // f32[3] direction to (parallel: place of) the picture's upper left corner
export const CAMERA_DX = 24; // f32[3] step for one pixel to the right; panorama: unit vector to the right
export const CAMERA_DY = 36; // f32[3] step for one pixel down; panorama: unit vector down
export const CAMERA_FORWARD = 48; // f32[3] unit line of sight, for depth
export const CAMERA_BYTES = 60;

/** One frame: camera, light, limits, and the scene tree with this frame's instances. */
export const FRAME_OPEN = 0; // CAMERA camera when the shutter opens
export const FRAME_CLOSE = 60; // CAMERA camera when it closes
export const FRAME_PROJECTION = 120; // u32 0 perspective, 1 parallel, 2 panorama
export const FRAME_SEED = 124; // u32
export const FRAME_WIDTH = 128; // u32 pixels
export const FRAME_HEIGHT = 132; // u32
export const FRAME_LENS = 136; // f32 radius of the lens, metres; 0 = all sharp
export const FRAME_FOCUS = 140; // f32 distance of the sharp plane along the line of sight
export const FRAME_FILTER = 144; // u32 pointer to f32[FILTER_CELLS + 1]: offset in pixels by cumulative chance
export const FRAME_SHUTTER = 148; // u32 1: something moves while the shutter is open
export const FRAME_TURN = 152; // f32 radians that MOVING instances turn by, counterclockwise seen from where the axis points to
export const FRAME_PIVOT_X = 156; // f32
export const FRAME_PIVOT_Z = 160; // f32
export const FRAME_SEQUENCE = 164; // u32 bits of the sample index that neighbours share a sequence over
export const FRAME_MAX_BOUNCES = 168; // u32 deepest bounce off a surface that is not clear glass
export const FRAME_REFRACTION_DEPTH = 172; // u32 most glass interfaces that bend a path
export const FRAME_CLAMP = 176; // f32 limit of one indirect contribution, 0 = none
export const FRAME_EXTENT = 180; // f32 size of the scene, for offsets
export const FRAME_CAUSTICS = 184; // u32 1: glass blocks shadow rays, light finds its own way through
export const FRAME_TREE = 188; // u32 base of the scene tree
export const FRAME_ROOT = 192; // i32 reference of its root
export const FRAME_INSTANCES = 196; // u32 pointer to instance records
export const FRAME_INSTANCE_COUNT = 200; // u32
export const FRAME_HAS_GLASS = 204; // u32 1 where any instance FILTERS
export const FRAME_LIGHTS = 208; // u32 pointer to light records
export const FRAME_LIGHT_COUNT = 212; // u32
export const FRAME_LIGHT_CDF = 216; // u32 pointer to f32[count], cumulative chances of the lights
export const FRAME_SUNS = 220; // u32 pointer to u32[], indices of lights that are suns with a disc
export const FRAME_SUN_COUNT = 224; // u32
export const FRAME_LUT = 228; // u32 pointer to f32[256], sRGB byte to linear
export const FRAME_ENERGY = 232; // u32 pointer to the energy tables, see below
export const FRAME_ZENITH = 236; // f32[3] environment that lights
export const FRAME_HORIZON = 248; // f32[3] environment that lights
export const FRAME_NADIR = 260; // f32[3] environment that lights
export const FRAME_BACKDROP_TOP = 272; // f32[3] backdrop that the camera sees
export const FRAME_BACKDROP_MIDDLE = 284; // f32[3] backdrop that the camera sees
export const FRAME_BACKDROP_BOTTOM = 296; // f32[3] backdrop that the camera sees
export const FRAME_ENVIRONMENT = 308; // u32 pointer to the environment's image, or 0
export const FRAME_ENVIRONMENT_VISIBLE = 312; // u32 1: the camera sees the image instead of the backdrop
export const FRAME_TRANSPARENT = 316; // u32 1: the backdrop is left out, for alpha
export const FRAME_GROUND_KIND = 320; // u32 0 none, 1 base plane, 2 shadow-only ground
export const FRAME_GROUND_HEIGHT = 324; // f32
export const FRAME_GROUND_X = 328; // f32 centre of its fade
export const FRAME_GROUND_Z = 332; // f32 centre of its fade
export const FRAME_GROUND_INNER = 336; // f32 radius up to which it is whole
export const FRAME_GROUND_OUTER = 340; // f32 radius from which it is gone
export const FRAME_GROUND_MATERIAL = 344; // u32 pointer to a material record
export const FRAME_PLANES = 348; // u32 pointer to cutting planes
export const FRAME_PLANE_COUNT = 352; // u32
export const FRAME_CAP_MATERIAL = 356; // u32 pointer to the material of caps, or 0: the cut part's own
export const FRAME_STRIDE = 360; // u32 floats a pixel
export const FRAME_PASSES = 364; // u32 see below
export const FRAME_AO_DISTANCE = 368; // f32 how far ambient occlusion looks, metres
export const FRAME_NOISE = 372; // f32 relative error at which a cell of pixels stops; 0 = never
export const FRAME_MIN_SAMPLES = 376; // u32 samples taken before that is asked
export const FRAME_QUICK = 380; // u32 1: shaded, not path traced
export const FRAME_KEY = 384; // f32[3] shaded: unit direction to the key light
export const FRAME_KEY_COLOUR = 396; // f32[3] shaded: its irradiance over pi
export const FRAME_KEY_SPREAD = 408; // f32 quick: radius of the key's disc at unit distance
export const FRAME_BASE_SAMPLES = 412; // u32 samples that every pixel takes before the rest is shared out by need; 0 = all
export const FRAME_SAMPLES = 416; // u32 samples of a pixel, in the mean
export const FRAME_NEAR_CLIP = 420; // f32 metres along the line of sight that the camera looks past
export const FRAME_BACKDROP = 424; // u32 pointer to the texture behind everything, or 0
export const FRAME_BACKDROP_FIT = 428; // f32[4] u = f0 + f1 x and v = f2 + f3 y over film pixels
export const FRAME_BACKDROP_INVERSE_TONE = 444; // u32 pointer to LOOK_CELLS + 1 gains over the root of luminance, then f32[9] by rows; or 0: as light
export const FRAME_HATCH_MATERIAL = 448; // u32 pointer to the material of lines over caps, or 0
export const FRAME_HATCH = 452; // f32[4] lines a metre, share of a line, cosine and sine of its angle
export const FRAME_ADAPTIVE_SCALE = 468; // f32[2] what a pixel's need is multiplied by to tell its further samples for each one asked, and the most of that
export const FRAME_TILTED = 476; // u32 1: the turn is about AXIS through the pivot, not about the vertical
export const FRAME_PIVOT_Y = 480; // f32
export const FRAME_AXIS = 484; // f32[3] unit direction
export const FRAME_BYTES = 496;

/** Rays and hits of the batched queries. */
export const QUERY_ORIGIN = 0; // f32[3]
export const QUERY_DIRECTION = 12; // f32[3] any length; distances are in its multiples
export const QUERY_FAR = 24; // f32 farthest distance, may be infinite
export const QUERY_BYTES = 32;

/**  */
export const HIT_DISTANCE = 0; // f32 infinite where nothing was met
export const HIT_TRIANGLE = 4; // u32 or 1 / 0 for an any-hit query
export const HIT_INSTANCE = 8; // i32 -1 where nothing was met
export const HIT_BYTES = 16;

/** What one ray meets, answered by the probes: the first surface of any kind, and the first that lets no light through. */
export const PROBE_DISTANCE = 0; // f32 along the ray to the first surface; infinite where there is none
export const PROBE_DEPTH = 4; // f32 the same along the line of sight
export const PROBE_PART = 8; // i32 index of its part; -1 where there is none
export const PROBE_SOLID_DISTANCE = 12; // f32 along the ray to the first surface that lets no light through; infinite where there is none
export const PROBE_SOLID_PART = 16; // i32 index of its part; -1 where there is none
export const PROBE_INTERFACES = 20; // u32 surfaces before it that let light through
export const PROBE_BACK = 24; // u32 1 where the first surface was met from behind
export const PROBE_NORMAL = 28; // f32[3] of the first surface, against the ray
export const PROBE_BYTES = 48;

/** How light is made into bytes. Pointers are absolute; planes hold a value a pixel, up to a multiple of four. */
export const GRADE_RED = 0; // u32 pointer to f32, straight and linear
export const GRADE_GREEN = 4; // u32
export const GRADE_BLUE = 8; // u32
export const GRADE_ALPHA = 12; // u32 pointer to u32, the byte of alpha in the uppermost bits
export const GRADE_MATRIX = 16; // f32[9] exposure and white balance, by rows
export const GRADE_FLOOR = 52; // f32 what they give is at least that
export const GRADE_RATIO = 56; // u32 pointer to GRADE_RATIO_CELLS + 2 factors of the tone curve
export const GRADE_DISPLAY = 60; // u32 pointer to GRADE_DISPLAY_CELLS + 2 display values
export const GRADE_SATURATION = 64; // f32 1: as it is
export const GRADE_TABLE = 68; // u32 pointer to f32[3] an entry, red fastest; or 0
export const GRADE_TABLE_SIDE = 72; // u32 entries a side
export const GRADE_TABLE_SHARE = 76; // f32 0..1 of it that is mixed in
export const GRADE_BYTES = 80;
