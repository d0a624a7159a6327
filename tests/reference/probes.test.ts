/** Probes of frames against closed forms, and against cameras of a general-purpose library. */
import { PerspectiveCamera, Vector3 } from 'three';
import { describe, expect, it } from 'vitest';
import { sphere } from '../../src/core/model/meshMaker.js';
import { box, type Piece, planOfModel, probesOf } from '../support/checkModel.js';

const VIEW = { id: 'v', name: 'V', eye: [0, 0, 5], target: [0, 0, 0], focalLength: 50 };
const still = (view: object = {}, more: object = {}): Record<string, unknown> => ({
  stage: { ground: { kind: 'none' } },
  views: [{ ...VIEW, ...view }],
  shots: [{ id: 's', kind: 'still', views: ['v'] }],
  ...more,
});
const probe = (pieces: Piece[], changes: Record<string, unknown>) => probesOf(planOfModel(pieces, changes))[0]!;

/** A ball of so many metres radius about a point. */
function ball(radius: number, at: [number, number, number] = [0, 0, 0]): Piece {
  const mesh = sphere(48);
  mesh.positions = mesh.positions.map((c, i) => c * radius + at[i % 3]!);
  return { name: 'Ball', mesh };
}
const block = (name: string, min: number[], max: number[], more: Partial<Piece> = {}): Piece => ({ name, mesh: box(min, max), ...more });

describe('what a frame shows', () => {
  it('is the share of the frame that a sphere takes by perspective', () => {
    // A sphere's outline at distance d subtends asin(r / d); on a plane ahead it is a disc of radius tan of that.
    const half = Math.tan(Math.asin(0.8 / 5));
    const [across, upright] = [18 / 50, (18 / 50) * (9 / 16)];
    const { covered, subject, nearestInFrame } = probe([ball(0.8)], still());
    // 64 × 36 rays: the rim of 2π·16 pixels is uncertain by about a tenth of a pixel each.
    expect(covered).toBeCloseTo((Math.PI * half * half) / (4 * across * upright), 2);
    expect(nearestInFrame).toBeCloseTo(4.2, 2);
    const [left, , right] = subject!.box;
    // The outermost points of the mesh lie within its facets' sagitta of the sphere: 1 - cos(π / 48).
    expect((right - left) * across).toBeCloseTo(half, 2);
    expect(subject!.outside).toBe(0);
  });

  it.each([
    ['plain', {}],
    ['rolled', { roll: 20 }],
    ['with verticals kept', { keepVerticals: true, target: [0.3, -0.4, 0] }],
  ])('reaches beyond the frame as far as a library has its corners, %s', (_, extra) => {
    const view = { ...VIEW, eye: [1.5, 1.2, 4], target: [1, 0, 0], keepVerticals: false, roll: 0, ...extra };
    const camera = new PerspectiveCamera(50, 16 / 9, 0.01, 100);
    camera.filmGauge = 36;
    camera.setFocalLength(50);
    camera.position.fromArray(view.eye);
    camera.lookAt(view.target[0]!, view.keepVerticals ? view.eye[1]! : view.target[1]!, view.target[2]!);
    camera.rotateZ((-view.roll * Math.PI) / 180);
    if (view.keepVerticals) {
      const level = Math.hypot(view.target[0]! - view.eye[0]!, view.target[2]! - view.eye[2]!);
      const shift = (view.target[1]! - view.eye[1]!) / level / Math.tan((camera.fov * Math.PI) / 360);
      camera.setViewOffset(160, 90, 0, (-shift * 90) / 2, 160, 90);
    }
    camera.updateMatrixWorld();
    const corners = [-1, 1].flatMap((x) => [-1, 1].flatMap((y) => [-1, 1].map((z) => new Vector3(x, y, z).project(camera))));
    const [xs, ys] = [corners.map((c) => (c.x + 1) / 2), corners.map((c) => (1 - c.y) / 2)];
    const { over, box: found } = probe([block('B', [-1, -1, -1], [1, 1, 1])], still(view)).subject!;
    [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)].forEach((v, i) => expect(found[i]).toBeCloseTo(v, 4));
    expect(over.left).toBeCloseTo(Math.max(0, -Math.min(...xs)), 4);
    expect(over.right).toBeCloseTo(Math.max(0, Math.max(...xs) - 1), 4);
  });

  it('is half outside where the frame ends at its middle', () => {
    const shifted = still({ kind: 'parallel', width: 4, eye: [2, 0, 5], target: [2, 0, 0] });
    const { outside } = probe([block('B', [-0.5, -0.5, -0.5], [0.5, 0.5, 0.5])], shifted).subject!;
    // Cells of a twelfth of a metre: one of twelve rows is uncertain.
    expect(Math.abs(outside - 0.5)).toBeLessThan(1 / 12);
  });

  it('is hidden by the share that stands behind a screen', () => {
    const screen = block('Screen', [-2, -0.5, 1], [0, 2, 1.1], { isContext: true });
    const { hidden, hiddenBy } = probe([block('B', [-0.5, -0.5, -0.01], [0.5, 0.5, 0.01]), screen], still({ kind: 'parallel', width: 4 })).subject!;
    // A few hundred points: their share is known to about 1/√400.
    expect(Math.abs(hidden - 0.5)).toBeLessThan(0.05);
    expect(hiddenBy).toBe('Screen');
  });

  it('is not hidden by glass', () => {
    const pane = block('Pane', [-2, -2, 1], [2, 2, 1.1], { isContext: true, material: { transmission: 1, ior: 1.5, roughness: 0 } });
    expect(probe([ball(0.5), pane], still()).subject!.hidden).toBe(0);
  });

  it('turns with the subject: what is seen after a quarter turn is its side', () => {
    const shots = [{ id: 's', kind: 'turntable', view: 'v', frames: 4 }];
    const found = probesOf(planOfModel([block('B', [-1, -0.2, -0.1], [1, 0.2, 0.1])], still({ kind: 'parallel', width: 4 }, { shots })));
    const widths = found.map(({ subject }) => (subject!.box[2] - subject!.box[0]) * 4);
    [2, 0.2, 2, 0.2].forEach((w, i) => expect(widths[i]).toBeCloseTo(w, 3));
  });
});

describe('the room around the eye', () => {
  const hall = { name: 'Hall', mesh: box([-2, -2, -2], [2, 2, 2]) };

  it('inside a closed solid meets every surface from behind', () => {
    const { enclosed, enclosedBy, nearest } = probe([hall], still({ eye: [0, 0, 1], target: [0, 0, 0] }));
    expect(enclosed).toBe(1);
    expect(enclosedBy).toBe('Hall');
    // The wall is one metre ahead; of 48 directions the nearest is within 20° of it.
    expect(nearest).toBeGreaterThanOrEqual(1);
    expect(nearest).toBeLessThan(1 / Math.cos((20 * Math.PI) / 180));
  });

  it('outside of it meets none, and inside a room of walls neither', () => {
    expect(probe([hall], still()).enclosed).toBe(0);
    const walls = [
      block('Floor', [-2, -2.1, -2], [2, -2, 2]),
      block('Ceiling', [-2, 2, -2], [2, 2.1, 2]),
      block('Left', [-2.1, -2, -2], [-2, 2, 2]),
      block('Right', [2, -2, -2], [2.1, 2, 2]),
    ];
    expect(probe(walls, still({ eye: [0, 0, 1], target: [0, 0, 0] })).enclosed).toBe(0);
  });
});

describe('glass in line', () => {
  const panes = (n: number): Piece[] => [
    ...Array.from({ length: n }, (_, i) =>
      block(`Pane ${i}`, [-9, -9, i * 0.3], [9, 9, i * 0.3 + 0.01], { material: { transmission: 1, ior: 1.5, roughness: 0 } }),
    ),
    block('Wall', [-9, -9, -1], [9, 9, -0.9]),
  ];

  it.each([0, 1, 3, 7])('of %i panes costs two surfaces each (common practice, no source)', (n) => {
    expect(probe(panes(n), still()).interfaces).toBe(2 * n);
  });

  it('is beyond what light is followed through from the next pane on', () => {
    const quality = { samples: 16, depth: { bounces: 4, refractionDepth: 6 } };
    const beyond = (n: number): number => probe(panes(n), still({}, { sheet: { size: { width: 640, height: 360 }, quality } })).beyondDepth;
    expect(beyond(3)).toBe(0);
    expect(beyond(4)).toBe(1);
  });
});

describe('a cutting plane', () => {
  it('has the subject reach as far as its corners do, and shows what is left', () => {
    const section = { planes: [{ normal: [1, 1, 0], offset: 0.5 }] };
    const { subject } = probe([block('B', [-1, -1, -1], [1, 1, 1])], still({}, { section }));
    const [[low, high]] = subject!.reach as [[number, number]];
    expect(low).toBeCloseTo(-Math.SQRT2 - 0.5, 4);
    expect(high).toBeCloseTo(Math.SQRT2 - 0.5, 4);
  });

  it('takes away what lies beyond it', () => {
    const top = { planes: [{ normal: [0, 1, 0], offset: 0 }] };
    const { subject } = probe([block('B', [-1, -1, -1], [1, 1, 1])], still({ kind: 'parallel', width: 8 }, { section: top }));
    // The upper half is gone: what is left ends in the middle of the frame.
    expect(subject!.box[1]).toBeGreaterThan(0.49);
  });
});

describe('estimated light', () => {
  it('is black without any, and white under very much', () => {
    const light = (grade: object) => probe([ball(1)], still({}, { grade })).light!;
    expect(light({ exposure: -20 }).black).toBe(1);
    expect(light({ exposure: 20 }).burnt).toBe(1);
    expect(light({}).black).toBeLessThan(0.05);
    expect(light({}).burnt).toBeLessThan(0.3);
    // One stop of light asks for one stop less of exposure.
    expect(light({ exposure: 3 }).wanted).toBeCloseTo(light({}).wanted, 5);
  });
});

describe('a floor of the model about the ground', () => {
  const floor = (share: number): number =>
    probe(
      [block('Floor', [-1, -0.001, -1], [2 * share - 1, 0, 1]), block('Post', [-1, 0, -1], [1, 1, -0.98])],
      still({}, { stage: { ground: { kind: 'plane', height: 0 } } }),
    ).floor!.share;

  it('is known by its share of the footprint', () => {
    // 24 × 24 rays: a row of 24 is uncertain.
    expect(Math.abs(floor(0.75) - 0.75)).toBeLessThan(1 / 24);
    expect(Math.abs(floor(0.25) - 0.25)).toBeLessThan(1 / 24);
  });
});
