/** A small town in CityJSON 2.0, written out by hand. */

/** Numbers of the eight corners of a box whose first vertex is `first`, low ones first, counterclockwise from above. */
const box = (first: number): number[][][] => {
  const v = (k: number): number => first + k;
  return [
    [[v(4), v(5), v(6), v(7)]],
    [[v(0), v(3), v(2), v(1)]],
    [[v(0), v(1), v(5), v(4)]],
    [[v(1), v(2), v(6), v(5)]],
    [[v(2), v(3), v(7), v(6)]],
    [[v(3), v(0), v(4), v(7)]],
  ];
};

const corners = ([x, y, z]: number[], [w, d, h]: number[]): number[][] =>
  [0, h!].flatMap((up) => [
    [x!, y!, z! + up],
    [x! + w!, y!, z! + up],
    [x! + w!, y! + d!, z! + up],
    [x!, y! + d!, z! + up],
  ]);

/** A square of that side about a place, counterclockwise from above. */
const square = (x: number, y: number, half: number): number[][] => [
  [x - half, y - half, 0],
  [x + half, y - half, 0],
  [x + half, y + half, 0],
  [x - half, y + half, 0],
];

const VERTICES = [
  // 0: a house of 4 × 3 × 2.5 m, and 8: its annexe of 2 × 2 × 2 m, in millimetres of a map.
  ...corners([0, 0, 0], [4000, 3000, 2500]),
  ...corners([4000, 0, 0], [2000, 2000, 2000]),
  // 16: the ground of 20 × 20 m, and 20: a pond of 4 × 4 m in it.
  ...square(3000, 1500, 10_000),
  ...square(-4000, -4000, 2000),
  // 24: where a post stands.
  [9000, 9000, 0],
];

const SOLID = { type: 'Solid', boundaries: [box(0)] };

/** The town; its house has a roof, walls and a floor, its ground a hole where the pond is. */
export const TOWN = {
  type: 'CityJSON',
  version: '2.0',
  transform: { scale: [0.001, 0.001, 0.001], translate: [85_000, 446_000, 2] },
  metadata: { referenceSystem: 'https://www.opengis.net/def/crs/EPSG/0/7415' },
  appearance: { materials: [{ name: 'Blue render', diffuseColor: [0, 0, 1], transparency: 0.25 }] },
  'geometry-templates': {
    templates: [{ type: 'MultiSurface', lod: '2', boundaries: box(0) }],
    'vertices-templates': corners([-0.5, -0.5, 0], [1, 1, 1]),
  },
  CityObjects: {
    house: {
      type: 'Building',
      attributes: { name: 'House' },
      children: ['annexe'],
      geometry: [
        { ...SOLID, lod: '1.2' },
        {
          ...SOLID,
          lod: '2.2',
          semantics: {
            surfaces: [{ type: 'RoofSurface' }, { type: 'GroundSurface' }, { type: 'WallSurface' }],
            values: [[0, 1, 2, 2, 2, 2]],
          },
        },
      ],
    },
    annexe: {
      type: 'BuildingPart',
      parents: ['house'],
      // In a circle: a reader must not follow it for ever.
      children: ['house'],
      geometry: [{ type: 'MultiSolid', lod: '1', boundaries: [[box(8)]], material: { winter: { value: 0 } } }],
    },
    ground: {
      type: 'TINRelief',
      geometry: [
        {
          type: 'CompositeSurface',
          lod: '1',
          boundaries: [
            [
              [16, 17, 18, 19],
              [23, 22, 21, 20],
            ],
          ],
        },
      ],
    },
    post: {
      type: 'CityFurniture',
      geometry: [
        // Twice as high as it is wide, by its matrix.
        { type: 'GeometryInstance', template: 0, boundaries: [24], transformationMatrix: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 2, 0, 0, 0, 0, 1] },
        { type: 'MultiPoint', lod: '0', boundaries: [0, 1] },
      ],
    },
    path: { type: 'Road', geometry: [{ type: 'MultiLineString', lod: '0', boundaries: [[16, 0, 24]] }] },
  },
  vertices: VERTICES,
};
