/** Reads USDA, USDC and USDZ: layers are composed here, what they come to is built by three's composer. */
import { fileStem } from '../../core/model/fileExtensions.js';
import { USDComposer } from 'three/examples/jsm/loaders/usd/USDComposer.js';
import { LoadingManager } from 'three';
import { pluralize } from '../../core/base/pluralize.js';
import type { Model } from '../../core/model/model.js';
import { ModelError, type SourceFile } from '../format.js';
import { ModelBuilder, decomposeMatrix } from '../modelBuilder.js';
import { animationsLeftOut, leftOut, listNames } from '../report.js';
import { withDomShim } from '../scene/domShim.js';
import { textureAddresses } from '../scene/fromThree.js';
import { addTextured } from '../scene/textured.js';
import { compose, type Lost } from './compose.js';
import { openFiles } from './open.js';
import { complete, eachPrim, numbersOf, type Placed, prototypesOf } from './scene.js';
import { specsOf } from './specs.js';

/** Types that light or show something, and of which nothing comes over. */
const LEFT_OUT = [
  ...['CylinderLight', 'DiskLight', 'DistantLight', 'DomeLight', 'GeometryLight', 'RectLight', 'SphereLight'],
  ...['HermiteCurves', 'NurbsCurves', 'NurbsPatch', 'Plane', 'Points', 'TetMesh', 'Volume'],
];

/** What of the composed tree does not come over, by name and number. */
function tellLeftOut(prims: readonly Placed[], curved: number, tell: (line: string) => void): void {
  const counts = LEFT_OUT.map((type): [string, number] => [type, prims.filter(({ prim }) => prim.type === type).length]);
  const left = leftOut([...counts, ['BasisCurves that are not straight', curved]]);
  if (left) tell(left);
  const moving = prims.filter(({ prim }) => [...prim.properties.values()].some((p) => (p.samples?.times.length ?? 0) > 1)).length;
  if (moving > 0) tell(animationsLeftOut(moving));
  const named = (is: (placed: Placed) => boolean): string[] => prims.filter(is).map(({ path }) => path.slice(path.lastIndexOf('/') + 1));
  const coloured = named(({ prim }) => numbersOf(prim, 'primvars:displayColor').length > 3);
  if (coloured.length > 0) tell(`Of the colours by vertex or face only the first is rendered: ${listNames(coloured)}.`);
  const skinned = named(({ prim }) => prim.type === 'Mesh' && prim.properties.has('primvars:skel:jointIndices'));
  if (skinned.length > 0) tell(`Imported in the pose they are bound in: ${listNames(skinned)}.`);
}

/** What was referred to and not found. */
function tellLost({ layers, prims, endless, tooMany }: Lost, tell: (line: string) => void): void {
  if (layers.size > 0) tell(`Layers that were not given with the model: ${listNames([...layers])}. Give them beside it, or export one file.`);
  if (prims.size > 0) tell(`References that lead nowhere: ${listNames([...prims])}.`);
  if (endless) tell('References that go round in circles are left out.');
  if (tooMany) tell('The file has too many prims: references of the last ones are left out. Export fewer, or one flat file.');
}

/** Addresses of images by themselves: the composer is to ask for what it is told. */
const addressesOf = (prims: readonly Placed[]): Record<string, string> =>
  Object.fromEntries(
    prims.flatMap(({ prim }) =>
      [...prim.properties.values()].flatMap(({ type, value }) => (type === 'asset' && typeof value === 'string' ? [[value, value] as const] : [])),
    ),
  );

/** Reads a model with the layers and images that were given beside it. @throws where it cannot be read, with the reason. */
export async function read(file: SourceFile, companions: SourceFile[]): Promise<Model> {
  const gather = new ModelBuilder();
  const tell = (line: string): void => void gather.warnings.add(line);
  const { files, root, lost, specs, scene, warned } = withDomShim((loaded) => {
    const given = openFiles(file, companions);
    const composed = compose(given.root, given.open);
    const prims = eachPrim(composed.root);
    const needed = new Set(prims.flatMap(({ prim }) => (prim.type === 'PointInstancer' ? prototypesOf(prim) : [])));
    const made = specsOf(composed.root, given.root.layer.metadata, needed);
    const built = new USDComposer(new LoadingManager()).compose({ specsByPath: made }, addressesOf(prims), {}, '');
    return { files: given, ...composed, specs: made, scene: built, warned: loaded.warned };
  });
  const { hidden, curved } = complete(scene, root, file.name);
  const defined = eachPrim(root).filter(({ path }) => specs[path] !== undefined);
  if (defined.length === 0 && lost.layers.size === 0)
    throw new ModelError(`"${file.name}" could not be read as USD; export it again, with the geometry in it.`);
  tellLost(lost, tell);
  // The parser passes over lists of references and payloads (types 35 and 55) with a word.
  const binary = warned.filter((line) => /Unsupported scalar type (35|55)\b/.test(line)).length;
  if (binary > 0) tell(`${pluralize(binary, 'reference')} of binary layers left out; export them as text (.usda), or as one file.`);
  if (hidden > 0) tell(`${pluralize(hidden, 'hidden prim')} of the file, with what is below, not rendered.`);
  tellLeftOut(defined, curved, tell);
  scene.updateMatrix();
  const top = gather.part(fileStem(file.name), -1, { place: decomposeMatrix(scene.matrix.elements)! });
  const inside = new Map(
    textureAddresses(scene).flatMap((address) => {
      const image = files.image(address);
      return image ? [[address, image] as const] : [];
    }),
  );
  await addTextured(gather, scene, top, companions, inside);
  return gather.model(file.name);
}
