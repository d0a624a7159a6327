/** VRML97 (ISO/IEC 14772-1:1997): sizes, tree, colours and pictures, and what is left out said by name and number. */
import { readFileSync } from 'node:fs';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { triangleCount } from '../../src/core/model/model.js';
import type { ReadOptions } from '../../src/formats/format.js';
import { readModel } from '../../src/formats/formats.js';
import { close, measure, size } from '../support/solids.js';

const METRES: ReadOptions = { unit: 'm', up: 'y' };
const read = (text: string, options = METRES, beside: { name: string; bytes: Uint8Array }[] = []) =>
  readModel([{ name: 'shelf.wrl', bytes: new TextEncoder().encode(text) }, ...beside], options);

const SHELF = `#VRML V2.0 utf8
# A Switch in a comment is none.
Background { skyColor 0.2 0.4 0.8 }
DirectionalLight { direction 0 -1 0 }
Viewpoint { position 0 1 5 description "by the Switch" }
Viewpoint { position 5 1 0 }
DEF Shelf Transform {
  translation 10 0 0
  children [
    DEF Board Transform { children Shape {
      appearance Appearance { material DEF Oak Material { diffuseColor 0.8 0.1 0.1 } texture ImageTexture { url "maps/oak.png" } }
      geometry Box { size 4 3 2 }
    } }
    DEF Pane Transform { translation 0 0 5 children Shape {
      appearance Appearance { material Material { transparency 0.8 } }
      geometry IndexedFaceSet {
        coord Coordinate { point [ 0 0 0, 1 0 0, 1 1 0, 0 1 0 ] }
        coordIndex [ 0 1 2 3 -1 ]
      }
    } }
  ]
}
`;

describe('VRML97', () => {
  it('has the size, the tree and the colours that it says, without its sky', async () => {
    const model = await read(SHELF);
    // A box 4 × 3 × 2 at x = 10, and a pane a metre wide 5 m in front of its middle.
    close(size(model), [4, 3, 6]);
    expect(measure(model, (path) => path.includes('Board')).volume).toBeCloseTo(24, 6);
    expect(model.parts.map((p) => p.path)).toEqual(expect.arrayContaining(['shelf/Shelf/Board', 'shelf/Shelf/Pane']));
    expect(triangleCount(model)).toBe(14);
    // 0.8 and 0.1 as sRGB (IEC 61966-2-1).
    close(model.materials[0]!.base, [0.6038, 0.01002, 0.01002], 3);
    expect(model.materials[1]).toMatchObject({ transmission: 1, thin: true });
    expect(model.warnings).toContain('Left out: 1 Background, 1 DirectionalLight, 2 Viewpoint.');
  });

  it('is turned and scaled as is said of it', async () => {
    close(size(await read(SHELF, { unit: 'mm', up: 'z' })), [0.004, 0.006, 0.003]);
  });

  it('has the picture that was given beside it; one that was not is named', async () => {
    const bytes = new Uint8Array(
      await sharp({ create: { width: 6, height: 4, channels: 3, background: '#00ff00' } })
        .png()
        .toBuffer(),
    );
    const model = await read(SHELF, METRES, [{ name: 'oak.png', bytes }]);
    expect(model.textures.map((t) => [t.width, t.height, [...t.pixels.slice(0, 4)]])).toEqual([[6, 4, [0, 255, 0, 255]]]);
    expect((await read(SHELF)).warnings).toContainEqual(expect.stringContaining('The texture "maps/oak.png" of the material'));
  });

  it('of version 1, or cut short, is refused by name', async () => {
    await expect(read('#VRML V1.0 ascii\nSeparator { }')).rejects.toThrow('"shelf.wrl" is VRML 1, which is not read');
    await expect(read(SHELF.slice(0, -3))).rejects.toThrow('"shelf.wrl" is cut short');
  });

  it('made by another program is read', async () => {
    const name = 'Wuson.wrl';
    const model = await readModel([{ name, bytes: new Uint8Array(readFileSync(`/usr/share/assimp/models/WRL/${name}`)) }], METRES);
    expect(triangleCount(model)).toBeGreaterThan(1000);
  });
});
