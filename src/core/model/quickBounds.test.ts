import { BoxGeometry, Mesh } from 'three';
import { PLYExporter } from 'three/examples/jsm/exporters/PLYExporter.js';
import { STLExporter } from 'three/examples/jsm/exporters/STLExporter.js';
import { describe, expect, it } from 'vitest';
import { MODEL_FORMATS } from '../../formats/formats.js';
import { EXT_WITHOUT_UNITS, EXT_IMPLIED_UNITS, EXT_WITH_UNITS } from './fileExtensions.js';
import { quickBounds } from './quickBounds.js';

const box = new Mesh(new BoxGeometry(2, 3, 5));
const bytes = (v: string | DataView | ArrayBuffer): Uint8Array =>
  typeof v === 'string' ? new TextEncoder().encode(v) : new Uint8Array(v instanceof DataView ? v.buffer : v);
globalThis.requestAnimationFrame ??= (() => 0) as typeof requestAnimationFrame;
const ply = (binary: boolean): Uint8Array => bytes(new PLYExporter().parse(box, () => {}, { binary } as never) as unknown as ArrayBuffer);

describe('the size of a file before it is brought in', () => {
  it.each([
    ['b.stl', bytes(new STLExporter().parse(box, { binary: true }) as unknown as DataView)],
    ['b.stl', bytes(new STLExporter().parse(box) as unknown as string)],
    ['b.ply', ply(false)],
    ['b.ply', ply(true)],
    ['b.obj', bytes('o box\nv -1 -1.5 -2.5\nv 1 1.5 2.5\nvn 9 9 9\nvt 7 7 7\n')],
  ])('%s', (name, data) => {
    quickBounds(name, data)!.forEach((v, i) => expect(v).toBeCloseTo([2, 3, 5][i]!, 5));
  });

  it('is not told where there is nothing to tell it from', () => {
    expect(quickBounds('b.obj', bytes('no vertices'))).toBeNull();
    expect(quickBounds('b.ply', bytes('ply\nformat binary_little_endian 1.0\n'))).toBeNull();
    expect(quickBounds('b.stl', new Uint8Array(200))).toBeNull();
  });
});

describe('endings', () => {
  it('are those that there are readers for', () => {
    const of = (states: boolean): string[] =>
      MODEL_FORMATS.filter((f) => f.statesUnits === states)
        .flatMap((f) => f.extensions)
        .sort();
    expect([...EXT_WITH_UNITS, ...EXT_IMPLIED_UNITS].sort()).toEqual(of(true));
    expect([...EXT_WITHOUT_UNITS].sort()).toEqual(of(false));
  });
});
