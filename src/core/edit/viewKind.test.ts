import { describe, expect, it } from 'vitest';
import { cameraOf, type View, viewSchema } from '../camera/view.js';
import { viewInKind } from './viewKind.js';

const VIEW: View = viewSchema.parse({
  id: 'v',
  name: 'V',
  eye: [0, 1, 5],
  target: [0, 1, 0],
  focalLength: 36,
  aperture: 2.8,
  focus: 4,
  keepVerticals: true,
});
const SIZE = { width: 160, height: 90 };

describe('a view in another kind', () => {
  it('comes back as it was, over every other kind', () => {
    for (const kind of ['parallel', 'panorama'] as const) {
      const other = viewSchema.parse(viewInKind(VIEW, kind));
      expect(other.kind).toBe(kind);
      expect(viewInKind(other, 'perspective')).toMatchObject(VIEW);
    }
    const drawn = viewInKind({ ...viewInKind(VIEW, 'parallel'), width: 1.25 }, 'panorama');
    expect(viewInKind(drawn, 'parallel').width).toBe(1.25);
  });

  it('begins as parallel with what was seen at the target', () => {
    // 36 mm over 36 mm of film at 5 m.
    expect(viewInKind(VIEW, 'parallel').width).toBe(5);
  });

  it('gives up straight verticals where it was tilted or rolled meanwhile', () => {
    const steep: View = { ...viewInKind(VIEW, 'parallel'), eye: [0, 9, 1] };
    expect(viewInKind(steep, 'perspective').keepVerticals).toBe(false);
    expect(viewInKind({ ...viewInKind(VIEW, 'parallel'), roll: 10 }, 'perspective')).toMatchObject({ keepVerticals: false, roll: 10 });
  });

  it('takes nothing into the picture that its kind does not have', () => {
    const { aperture: _a, focus: _f, ...sharp } = VIEW;
    for (const kind of ['parallel', 'panorama'] as const) {
      const plain = cameraOf({ ...sharp, keepVerticals: false, kind, width: 5 }, SIZE, 1);
      expect(cameraOf({ ...viewInKind(VIEW, kind), width: 5 }, SIZE, 1)).toEqual(plain);
    }
    expect(cameraOf({ ...VIEW, kind: 'panorama', keepVerticals: false, roll: 20 }, SIZE, 1)).toEqual(
      cameraOf({ ...VIEW, kind: 'panorama', keepVerticals: false }, SIZE, 1),
    );
  });
});
