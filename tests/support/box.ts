/** Small models of our own, as people would bring them. */
import { tern } from '../../demo/tern.js';
import { MeshMaker } from '../../src/core/model/meshMaker.js';
import { writeGlb } from '../../src/formats/glb/write.js';

/**
 * A block of 400 × 300 × 200 millimetres, Z up, in two parts with two materials.
 * @param more further boxes by name, with the corner that is farther from 0.
 */
export function blockObj(more: readonly { name: string; size: number[] }[] = []): { obj: string; mtl: string } {
  const lines = ['mtllib block.mtl'];
  let first = 1;
  const piece = (name: string, material: string, min: number[], max: number[]): void => {
    const { positions, indices } = new MeshMaker().box(min, max).mesh();
    lines.push(`o ${name}`, `usemtl ${material}`);
    for (let i = 0; i < positions.length; i += 3) lines.push(`v ${positions[i]} ${positions[i + 1]} ${positions[i + 2]}`);
    for (let i = 0; i < indices.length; i += 3) lines.push(`f ${indices[i]! + first} ${indices[i + 1]! + first} ${indices[i + 2]! + first}`);
    first += positions.length / 3;
  };
  piece('Body', 'red', [0, 0, 0], [400, 300, 150]);
  piece('Lid', 'white', [0, 0, 150], [400, 300, 200]);
  for (const { name, size } of more) piece(name, 'white', [0, 0, 0], size);
  return { obj: lines.join('\n'), mtl: 'newmtl red\nKd 0.7 0.1 0.1\nNs 60\nnewmtl white\nKd 0.9 0.9 0.9\nNs 10\n' };
}

let lamp: Promise<Buffer> | null = null;

/** The desk lamp as a GLB; made once a process. */
export function ternGlb(): Promise<Buffer> {
  lamp ??= writeGlb(tern()).then((bytes) => Buffer.from(bytes));
  return lamp;
}
