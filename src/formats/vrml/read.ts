/** Reads VRML97 through three's loader. */
import { fileStem } from '../../core/model/fileExtensions.js';
import { VRMLLoader } from 'three/examples/jsm/loaders/VRMLLoader.js';
import type { Model } from '../../core/model/model.js';
import { METRES } from '../../core/units/length.js';
import { ModelError, type ReadOptions, type SourceFile, textOf } from '../format.js';
import { ModelBuilder, Z_UP } from '../modelBuilder.js';
import { leftOut } from '../report.js';
import { withDomShim } from '../scene/domShim.js';
import { addTextured } from '../scene/textured.js';

/** Nodes that show, light or hold something, and that are not read (ISO/IEC 14772-1, 6). */
const LEFT_OUT = [
  'Background',
  'Billboard',
  'DirectionalLight',
  'Fog',
  'Inline',
  'LOD',
  'MovieTexture',
  'PointLight',
  'PROTO',
  'Script',
  'SpotLight',
  'Switch',
  'Text',
  'Viewpoint',
];

/** How often each of those is in a text without comments and words. */
const countLeftOut = (bare: string): [string, number][] => LEFT_OUT.map((node) => [node, bare.match(new RegExp(`\\b${node}\\b`, 'g'))?.length ?? 0]);

/** A background, which holds no other node: the loader would make a sky of it, or break down where it says half. */
const BACKGROUND = /(?:\bDEF\s+\S+\s+)?\bBackground\s*\{[^{}]*\}/g;

/** Reads a model with the images that were given beside it. @throws where the file is of VRML 1, or damaged. */
export async function read(file: SourceFile, companions: SourceFile[], { unit, up }: ReadOptions): Promise<Model> {
  const text = textOf(file.bytes);
  if (/^#VRML V1/.test(text)) throw new ModelError(`"${file.name}" is VRML 1, which is not read; export it as VRML 2 (VRML97), or as glTF.`);
  // What is cut off ends within a node.
  const bare = text.replace(/"(?:[^"\\]|\\.)*"|#[^\n]*/g, ' ');
  const open = (bare.match(/[[{]/g)?.length ?? 0) - (bare.match(/[\]}]/g)?.length ?? 0);
  if (open > 0) throw new ModelError(`"${file.name}" is cut short: its last node does not end. Export or copy it again.`);
  const scene = withDomShim(() => new VRMLLoader().parse(text.replace(BACKGROUND, ''), ''));
  const gather = new ModelBuilder();
  const scale = METRES[unit];
  const root = gather.part(fileStem(file.name), -1, {
    place: { ...(up === 'z' ? Z_UP : { translation: [0, 0, 0], rotation: [0, 0, 0, 1] }), scale: [scale, scale, scale] },
  });
  const left = leftOut(countLeftOut(bare));
  if (left) gather.warnings.add(left);
  await addTextured(gather, scene, root, companions);
  return gather.model(file.name);
}
