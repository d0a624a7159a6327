/** Reads FBX through three's loader. The format states unit and up axis. */
import { fileStem } from '../../core/model/fileExtensions.js';
import type { Group, Material, Mesh, Object3D, Texture } from 'three';
import { FBXLoader } from 'three/examples/jsm/loaders/FBXLoader.js';
import type { Model } from '../../core/model/model.js';
import { pluralize } from '../../core/base/pluralize.js';
import { ModelError, type SourceFile } from '../format.js';
import { decomposeMatrix, ModelBuilder } from '../modelBuilder.js';
import { animationsLeftOut, listNames } from '../report.js';
import { type Loaded, withDomShim } from '../scene/domShim.js';
import { textureAddresses } from '../scene/fromThree.js';
import { addTextured } from '../scene/textured.js';
import { fbxVersion, isBinaryFbx } from './version.js';

/** Units of an FBX file are so many centimetres; here are metres. */
const CENTIMETRE = 0.01;

/** What the loader cannot read, in thousandths. */
const OLDEST = { binary: 6400, text: 7000 };

function checkVersion({ name, bytes }: SourceFile): void {
  const version = fbxVersion(bytes);
  if (version === null) throw new ModelError(`"${name}" does not say its version; it is cut short or damaged. Export it again.`);
  const oldest = isBinaryFbx(bytes) ? OLDEST.binary : OLDEST.text;
  if (version < oldest)
    throw new ModelError(
      `"${name}" is FBX ${version / 1000} as ${isBinaryFbx(bytes) ? 'binary' : 'text'}, which is too old. Export it as binary FBX 7.4 or later.`,
    );
}

const mapsOf = (material: Material): Texture[] =>
  Object.values(material).filter((value): value is Texture => value !== null && typeof value === 'object' && 'isTexture' in value);

/** What is in the tree and does not come over, by name and number. */
function leftOut(scene: Group, warned: readonly string[], tell: (line: string) => void): void {
  const lights: string[] = [];
  const moved = { skinned: [] as string[], morphed: [] as string[] };
  const maps = new Set<Texture>();
  scene.traverse((object: Object3D) => {
    const name = nameOf(object);
    if ('isLight' in object) lights.push(name);
    if ('isSkinnedMesh' in object) moved.skinned.push(name);
    const mesh = object as Mesh;
    if (!mesh.isMesh) return;
    if (Object.keys(mesh.geometry.morphAttributes).length > 0) moved.morphed.push(name);
    for (const material of [mesh.material].flat()) for (const map of mapsOf(material)) if (map !== (material as { map?: Texture }).map) maps.add(map);
  });
  if (lights.length > 0) tell(`${pluralize(lights.length, 'light')} left out: ${listNames(lights)}. Add lights on the Stage step.`);
  if (moved.skinned.length > 0) tell(`Imported in the pose they are bound in: ${listNames(moved.skinned)}.`);
  if (moved.morphed.length > 0) tell(`Imported without their morph targets: ${listNames(moved.morphed)}.`);
  if (scene.animations.length > 0) tell(animationsLeftOut(scene.animations.length));
  const warnings = (said: RegExp): number => warned.filter((line) => said.test(line)).length;
  const parallel = warnings(/Orthographic cameras/);
  if (parallel > 0) tell(`${pluralize(parallel, 'parallel camera')} left out.`);
  if (warnings(/layered textures/) > 0) tell('Of layered textures only the first layer is imported.');
  const others = maps.size + warnings(/map is not supported/);
  if (others > 0) tell(`${pluralize(others, 'texture')} for other things than the base colour left out.`);
}

/** As the file has it: the loader keeps names that scripts can address. */
const nameOf = (object: Object3D): string => String((object.userData as { originalName?: unknown }).originalName ?? object.name);

/** Pictures that are in the file itself, as files beside it. */
async function embeddedFiles(addresses: readonly string[], embedded: Loaded['embedded']): Promise<Map<string, SourceFile>> {
  const files = new Map<string, SourceFile>();
  for (const [i, address] of addresses.entries()) {
    const data = /^data:image\/[a-z]+;base64,(.*)$/s.exec(address)?.[1];
    const bytes = data === undefined ? await embedded(address) : new Uint8Array(Buffer.from(data, 'base64'));
    if (bytes) files.set(address, { name: `embedded texture ${i + 1}`, bytes });
  }
  return files;
}

/** Reads a model with the images in it and those that were given beside it. @throws where it is of an old version or damaged. */
export async function read(file: SourceFile, companions: SourceFile[]): Promise<Model> {
  checkVersion(file);
  const { scene, loaded } = withDomShim((opened) => ({ scene: new FBXLoader().parse(file.bytes.slice().buffer, ''), loaded: opened }));
  const gather = new ModelBuilder();
  const said = Number((scene.userData as { unitScaleFactor?: unknown }).unitScaleFactor ?? 1);
  if (!(said > 0 && Number.isFinite(said))) throw new ModelError(`"${file.name}" states a unit that is not a length; export it again.`);
  scene.scale.multiplyScalar(said * CENTIMETRE);
  scene.updateMatrix();
  const root = gather.part(fileStem(file.name), -1, { place: decomposeMatrix(scene.matrix.elements)! });
  scene.traverse((object) => {
    object.name = nameOf(object);
    // Cameras of the format look along +X, here along −Z.
    if ('isCamera' in object) object.rotateY(-Math.PI / 2);
  });
  leftOut(scene, loaded.warned, (line) => gather.warnings.add(line));
  await addTextured(gather, scene, root, companions, await embeddedFiles(textureAddresses(scene), loaded.embedded));
  return gather.model(file.name);
}
