/** The demo's plans. */

/** Name of the sets that are rendered at the first start. */
export const FIRST_LOOK = 'First look';

const SITE = { name: 'Northmere', latitude: 59.9, longitude: 19.3, elevation: 4, north: 0, timeZone: 'Europe/Mariehamn' };

/** Set of the ferry landing. */
export const LANDING = {
  format: 'cold-easel.set',
  version: 2,
  name: 'Planning board review',
  sheet: { size: { width: 960, height: 540 }, rate: '24', quality: 'draft' },
  stage: { preset: 'open sky', site: SITE },
  views: [
    { id: 'quay-corner', name: 'Quay corner', eye: [14.5, 1.9, 11], target: [2, 1.5, 0], focalLength: 30, keepVerticals: true },
    { id: 'from-the-jetty', name: 'From the jetty', eye: [17, 1.75, 1.2], target: [0, 1.6, 0], focalLength: 35, keepVerticals: true },
    { id: 'entrance', name: 'Entrance', eye: [-3.4, 1.65, 10.5], target: [-0.6, 1.6, 0], focalLength: 28, keepVerticals: true },
    { id: 'from-above', name: 'From above', eye: [19, 15, 23], target: [1, 1.2, 0], focalLength: 50 },
    { id: 'bench', name: 'Bench', eye: [-1.4, 1.62, 1.4], target: [2.6, 1.1, -1.2], focalLength: 24, keepVerticals: true },
  ],
  shots: [
    {
      id: 'board-stills',
      name: 'Board stills',
      kind: 'still',
      views: ['quay-corner', 'from-the-jetty', 'entrance', 'from-above', 'bench'],
      subject: ['Pavilion'],
    },
    {
      id: 'corner-turntable',
      name: 'Corner turntable',
      kind: 'turntable',
      view: 'from-above',
      frames: 72,
      turns: ['camera'],
      pivot: 'target',
      subject: ['Pavilion'],
    },
    {
      id: 'arrival',
      name: 'Arrival',
      kind: 'walkthrough',
      stations: [{ eye: [13.2, 1.75, 0.55] }, { eye: [7, 1.75, 0.62] }, { eye: [5.2, 1.75, 4.4] }, { eye: [-0.4, 1.75, 5], hold: 1 }],
      look: 'target',
      target: [0, 1.5, 0],
    },
    {
      id: 'midsummer',
      name: 'Midsummer light',
      kind: 'sunStudy',
      view: 'quay-corner',
      dates: ['2026-06-21'],
      stepMinutes: 60,
      subject: ['Pavilion'],
    },
  ],
};

/** Set of the lamp. */
export const LAMP_SHOTS = {
  format: 'cold-easel.set',
  version: 2,
  name: 'Product review',
  sheet: { size: { width: 960, height: 540 }, rate: '24', quality: 'draft' },
  stage: { preset: 'bright sweep' },
  materials: {
    variants: [
      { id: 'black', name: 'Black', swaps: [{ from: 'Brass, brushed', to: 'blackened steel' }] },
      {
        id: 'white',
        name: 'White',
        swaps: [
          { from: 'Brass, brushed', to: 'anodised aluminium' },
          { from: 'Powder coat, graphite', to: 'white paint' },
        ],
      },
    ],
  },
  views: [
    { id: 'three-quarter', name: 'Three-quarter', eye: [0.93, 0.49, 1.22], target: [-0.02, 0.215, -0.02], focalLength: 50 },
    { id: 'front', name: 'Front', eye: [0, 0.24, 1.7], target: [-0.02, 0.22, 0], focalLength: 60 },
    { id: 'shade', name: 'Glass shade', eye: [0.62, 0.44, 0.5], target: [0.16, 0.345, 0], focalLength: 70 },
  ],
  shots: [
    { id: 'stills', name: 'Review stills', kind: 'still', views: ['three-quarter', 'front', 'shade'] },
    { id: 'turntable', name: 'Turntable', kind: 'turntable', view: 'three-quarter', frames: 72 },
    {
      id: 'opened',
      name: 'Opened',
      kind: 'sectionReveal',
      view: 'three-quarter',
      normal: [0, 0, 1],
      stations: [{ height: 0.1 }, { height: -0.01, seconds: 3 }],
      cap: '#e8e2d6',
      hatch: { spacing: 0.004, width: 0.0007, angle: 45, colour: '#a62c49' },
    },
  ],
};

/** What a quick look costs: seconds a still, a third of a second a frame of a movie on two cores. */
const LOOK = { rate: '24', quality: 'draft', size: { width: 640, height: 360 } };
const MOVING = { quality: 'quick', size: { width: 480, height: 270 } };

/** A small set of the landing, rendered at the first start. */
export const LANDING_LOOK = {
  ...LANDING,
  name: FIRST_LOOK,
  sheet: LOOK,
  shots: [
    { id: 'stills', name: 'Two views', kind: 'still', views: ['quay-corner', 'from-above'] },
    {
      id: 'midsummer',
      name: 'Midsummer light',
      kind: 'sunStudy',
      view: 'quay-corner',
      dates: ['2026-06-21'],
      stepMinutes: 60,
      legend: 'bottom left',
      overrides: MOVING,
    },
  ],
};

/** A small set of the lamp, rendered at the first start. */
export const LAMP_LOOK = {
  ...LAMP_SHOTS,
  name: FIRST_LOOK,
  sheet: LOOK,
  shots: [
    { id: 'stills', name: 'Two views', kind: 'still', views: ['three-quarter', 'shade'] },
    { id: 'turntable', name: 'Turntable', kind: 'turntable', view: 'three-quarter', frames: 36, overrides: MOVING },
  ],
};
