import { describe, expect, it } from 'vitest';
import { importedCameras } from '../../core/model/importedCameras.js';
import { modelBounds } from '../../core/model/model.js';
import { read } from './read.js';

/** A quad of two metres, and cameras, in centimetres with Z up. */
const FILE = `#usda 1.0
(
    metersPerUnit = 0.01
    upAxis = "Z"
)
def Xform "World"
{
    def Mesh "Plate"
    {
        int[] faceVertexCounts = [4]
        int[] faceVertexIndices = [0, 1, 2, 3]
        point3f[] points = [(-100, -100, 0), (100, -100, 0), (100, 100, 0), (-100, 100, 0)]
    }
    def Xform "Rig"
    {
        double3 xformOp:translate = (0, 0, 150)
        uniform token[] xformOpOrder = ["xformOp:translate"]
        def Camera "Front"
        {
            float focalLength = 50
            float horizontalAperture = 36
            float verticalAperture = 24
            double3 xformOp:translate = (0, -400, 0)
            float xformOp:rotateX = 90
            uniform token[] xformOpOrder = ["xformOp:translate", "xformOp:rotateX"]
        }
        def Camera "Plan"
        {
            token projection = "orthographic"
            float horizontalAperture = 3000
            float verticalAperture = 2000
            float verticalApertureOffset = 5
        }
    }
}
`;

describe('cameras of a USD file', () => {
  it('are offered as views in metres, upright, with their lenses', async () => {
    const model = await read({ name: 'plate.usda', bytes: new TextEncoder().encode(FILE) }, []);
    const [front, plan] = importedCameras(model, modelBounds(model));
    // Four metres in front and 1.5 up: Z up becomes Y up, so that what was before is at +Z.
    expect(front).toMatchObject({ name: 'Front', kind: 'perspective', focalLength: 50 });
    front!.eye.forEach((v, i) => expect(v).toBeCloseTo([0, 1.5, 4][i]!, 5));
    // It looks level along -Z.
    expect(front!.target[1]).toBeCloseTo(1.5, 5);
    expect(front!.target[2]).toBeLessThan(4);
    // Three metres across: its apertures are in tenths of a unit, and a unit is a centimetre.
    expect(plan).toMatchObject({ name: 'Plan', kind: 'parallel' });
    expect(plan!.width).toBeCloseTo(3, 5);
    expect(model.warnings).toContain('The camera "Plan" has a shifted lens; the view that is offered has none.');
  });
});
