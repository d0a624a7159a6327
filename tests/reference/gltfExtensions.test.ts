/** glTF extensions of the Khronos registry as another library writes them, and what is not applied said by name. */
import { Document, type Mesh, WebIO } from '@gltf-transform/core';
import {
  ALL_EXTENSIONS,
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  KHRMaterialsDispersion,
  KHRMaterialsPBRSpecularGlossiness,
  KHRMaterialsVariants,
  KHRNodeVisibility,
} from '@gltf-transform/extensions';
import { MeshoptDecoder, MeshoptEncoder } from 'meshoptimizer';
import { describe, expect, it } from 'vitest';
import { triangleCount } from '../../src/core/model/model.js';
import { readModel } from '../../src/formats/formats.js';
import { close, size } from '../support/solids.js';

/** A square of one metre in the plane z = 0, in a node of its own. */
function square(): { document: Document; mesh: Mesh; node: ReturnType<Document['createNode']> } {
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC3' | 'SCALAR', array: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', new Float32Array([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0])))
    .setIndices(accessor('SCALAR', new Uint16Array([0, 1, 2, 0, 2, 3])))
    .setMaterial(document.createMaterial('Plain'));
  const mesh = document.createMesh('Square').addPrimitive(primitive);
  const node = document.createNode('Square').setMesh(mesh);
  document.createScene().addChild(node);
  return { document, mesh, node };
}

async function read(document: Document) {
  await MeshoptEncoder.ready;
  const io = new WebIO()
    .registerExtensions(ALL_EXTENSIONS)
    .registerDependencies({ 'meshopt.encoder': MeshoptEncoder, 'meshopt.decoder': MeshoptDecoder });
  return readModel([{ name: 'a.glb', bytes: await io.writeBinary(document) }], { unit: 'm', up: 'y' });
}

describe('glTF', () => {
  it('has every instance of a node, each where it is (EXT_mesh_gpu_instancing)', async () => {
    const { document, node } = square();
    const buffer = document.getRoot().listBuffers()[0]!;
    const places = document
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array([0, 0, 0, 4, 0, 0, 0, 0, 6]))
      .setBuffer(buffer);
    const sizes = document
      .createAccessor()
      .setType('VEC3')
      .setArray(new Float32Array([1, 1, 1, 2, 2, 2, 1, 1, 1]))
      .setBuffer(buffer);
    const extension = document.createExtension(EXTMeshGPUInstancing).setRequired(true);
    node.setExtension('EXT_mesh_gpu_instancing', extension.createInstancedMesh().setAttribute('TRANSLATION', places).setAttribute('SCALE', sizes));
    const model = await read(document);
    expect(triangleCount(model)).toBe(6);
    expect(model.meshes).toHaveLength(1);
    // From 0 to the far side of the second, which is twice as large, and to the third.
    close(size(model), [6, 2, 6]);
    expect(model.parts.map((p) => p.path)).toEqual(['Square', 'Square/Square 1', 'Square/Square 2', 'Square/Square 3']);
    expect(model.warnings).toEqual([]);
  });

  it('leaves out of renders what the file hides, with what is below (KHR_node_visibility)', async () => {
    const { document, mesh, node } = square();
    const visibility = document.createExtension(KHRNodeVisibility);
    const hidden = document.createNode('Hidden').setExtension('KHR_node_visibility', visibility.createVisibility().setVisible(false));
    node.addChild(hidden.addChild(document.createNode('Below').setMesh(mesh)));
    const model = await read(document);
    expect(model.parts.map((p) => [p.name, p.renderVisible])).toEqual([
      ['Square', true],
      ['Hidden', false],
      ['Below', false],
    ]);
    expect(model.warnings).toEqual(['1 hidden node of the file, with what is below, not rendered.']);
  });

  it('has surfaces said by what they reflect (KHR_materials_pbrSpecularGlossiness)', async () => {
    const material = async (diffuse: [number, number, number, number], reflects: [number, number, number], gloss: number) => {
      const { document } = square();
      const extension = document.createExtension(KHRMaterialsPBRSpecularGlossiness);
      const older = extension.createPBRSpecularGlossiness().setDiffuseFactor(diffuse).setSpecularFactor(reflects).setGlossinessFactor(gloss);
      document.getRoot().listMaterials()[0]!.setExtension('KHR_materials_pbrSpecularGlossiness', older);
      return (await read(document)).materials[0]!;
    };
    const paint = await material([0.5, 0.1, 0.1, 1], [0.04, 0.04, 0.04], 0.8);
    expect(paint).toMatchObject({ base: [0.5, 0.1, 0.1], metalness: 0 });
    expect(paint.roughness).toBeCloseTo(0.2, 6);
    // 4 % head-on is an index of 1.5 (Fresnel).
    expect(paint.ior).toBeCloseTo(1.5, 6);
    expect(await material([0, 0, 0, 1], [0.9, 0.7, 0.3], 0.5)).toMatchObject({ base: [0.9, 0.7, 0.3], metalness: 1, roughness: 0.5 });
  });

  it('is read where it is packed with a place for those that cannot unpack it (EXT_meshopt_compression)', async () => {
    const { document } = square();
    document.createExtension(EXTMeshoptCompression).setRequired(true).setEncoderOptions({ method: EXTMeshoptCompression.EncoderMethod.QUANTIZE });
    const model = await read(document);
    expect(triangleCount(model)).toBe(2);
    close(size(model), [1, 1, 0], 3);
  });

  it('names variants, animations and extensions that do not come over', async () => {
    const { document, mesh, node } = square();
    const variants = document.createExtension(KHRMaterialsVariants);
    const list = variants.createMappingList();
    for (const name of ['Oak', 'Ash'])
      list.addMapping(variants.createMapping().addVariant(variants.createVariant(name)).setMaterial(document.createMaterial(name)));
    mesh.listPrimitives()[0]!.setExtension('KHR_materials_variants', list);
    const dispersion = document.createExtension(KHRMaterialsDispersion).createDispersion().setDispersion(1);
    document.getRoot().listMaterials()[0]!.setExtension('KHR_materials_dispersion', dispersion);
    const buffer = document.getRoot().listBuffers()[0]!;
    const times = document
      .createAccessor()
      .setType('SCALAR')
      .setArray(new Float32Array([0, 1]))
      .setBuffer(buffer);
    const places = document.createAccessor().setType('VEC3').setArray(new Float32Array(6)).setBuffer(buffer);
    const sampler = document.createAnimationSampler().setInput(times).setOutput(places);
    const channel = document.createAnimationChannel().setTargetNode(node).setTargetPath('translation').setSampler(sampler);
    document.createAnimation('Opens').addSampler(sampler).addChannel(channel);
    expect((await read(document)).warnings).toEqual([
      'glTF extensions left out: KHR_materials_dispersion.',
      'Material variants left out: Oak, Ash. The default materials are imported.',
      '1 animation left out; the model keeps its initial pose.',
    ]);
  });
});
