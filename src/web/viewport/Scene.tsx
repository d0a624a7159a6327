/** What the quick viewport draws: the model, lit by the frame's stage and seen by its camera. */
import { useThree } from '@react-three/fiber';
import { type ReactNode, useEffect, useMemo } from 'react';
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  Group,
  Material,
  Matrix4,
  type Mesh,
  PerspectiveCamera,
  Plane,
  RingGeometry,
  Sphere,
  type Side,
  Vector3,
} from 'three';
import type { Vec3 } from '../../core/math/bounds.js';
import { type ResolvedTransform, plinthMesh } from '../../core/model/modelTransform.js';
import type { Grade } from '../../core/image/grade.js';
import type { Turn } from '../../core/frame/frame.js';
import type { SetFile } from '../../core/plan/set.js';
import type { Stage } from '../../core/stage/stage.js';
import { type Camera, type Size, turnMatrix } from '../../core/camera/view.js';
import { toMaterial } from '../../core/materials/customMaterial.js';
import { libraryMaterial } from '../../core/materials/library.js';
import { boundsOfObjects, type Loaded, ghostMaterial } from './loaded.js';
import { type Finder, useRaycastPicker } from './picking.js';
import { highlight } from './highlight.js';
import { applyMaterials } from './applyMaterials.js';
import { backgroundOf } from './background.js';
import { lightBeam, environmentTexture } from './light.js';
import type { FrameRect } from './frameRect.js';

function blockOf(plinth: NonNullable<ResolvedTransform['plinth']>): BufferGeometry {
  const { positions, normals, indices } = plinthMesh(plinth);
  return new BufferGeometry()
    .setAttribute('position', new BufferAttribute(positions, 3))
    .setAttribute('normal', new BufferAttribute(normals!, 3))
    .setIndex(new BufferAttribute(indices, 1));
}

/** The colour that its material has; the model's own materials are left to the engine. */
function plinthColour(name: string, assignments: SetFile['materials']): Color {
  const own = assignments?.materials.find((f) => f.name === name);
  const material = own ? toMaterial(own) : libraryMaterial(name);
  return new Color(...(material?.base ?? [0.7, 0.7, 0.7]));
}

/** A disc in the xy plane, whole up to the inner radius and gone at the outer one. */
function fadingDisc(inner: number, outer: number): RingGeometry {
  const rings = 12;
  const disc = new RingGeometry(inner, outer, 64, rings);
  const { position } = disc.attributes as { position: BufferAttribute };
  const colours = new Float32Array(position.count * 4).fill(1);
  for (let i = 0; i < position.count; i++) {
    const far = Math.hypot(position.getX(i), position.getY(i));
    colours[4 * i + 3] = Math.max(0, (outer - far) / (outer - inner));
    // The innermost ring is drawn together to the middle.
    if (far < inner * 1.001) position.setXY(i, 0, 0);
  }
  disc.setAttribute('color', new BufferAttribute(colours, 4));
  return disc;
}

/** What a context draws. */
export interface SceneProps {
  loaded: Loaded;
  camera: Camera;
  rect: FrameRect;
  area: Size;
  turn?: Turn;
  stage: Stage;
  section: SetFile['section'];
  materials: SetFile['materials'];
  grade: Grade;
  place?: ResolvedTransform;
  working: boolean;
  selected: ReadonlySet<string> | undefined;
  only: ReadonlySet<string> | undefined;
  over?: Loaded;
  /** Of what is selected this group of faces alone, counted from 1. */
  group: number | undefined;
  /** Is given the way to tell what stands at a place of the page. */
  finder: Finder;
}

/** The model with its materials, lights and section, as WebGL draws it. */
export function Scene({
  loaded,
  camera,
  rect,
  area,
  turn,
  stage,
  section,
  materials: assignments,
  grade,
  place,
  working,
  selected,
  only,
  group,
  over,
  finder,
}: SceneProps): ReactNode {
  const { set, invalidate, scene, gl } = useThree();
  // Equal numbers are the same place, whichever object holds them.
  const placeKey = JSON.stringify(place);
  const { middle, radius } = useMemo(() => {
    const box = boundsOfObjects(loaded.subject);
    if (place) box.applyMatrix4(new Matrix4().fromArray(place.matrix));
    return { middle: box.getCenter(new Vector3()).toArray() as Vec3, radius: 1.2 * box.getBoundingSphere(new Sphere()).radius };
  }, [loaded, placeKey]);
  const plinth = useMemo(() => (place?.plinth ? blockOf(place.plinth) : null), [placeKey]);
  const aim = useMemo(() => {
    const target = new Group();
    target.position.set(...middle);
    target.updateMatrixWorld();
    return target;
  }, [middle]);
  const environment = useMemo(() => environmentTexture(stage, middle), [stage, middle]);
  useEffect(() => {
    scene.environment = environment;
    invalidate();
    return () => environment.dispose();
  }, [environment, scene, invalidate]);
  const lens = useMemo(() => {
    const c = new PerspectiveCamera();
    c.matrixAutoUpdate = false;
    // Our own projection must not be replaced when the canvas changes its size.
    (c as unknown as { manual: boolean }).manual = true;
    return c;
  }, []);
  useEffect(() => set({ camera: lens as never }), [set, lens]);
  useEffect(() => {
    const fitted = new Matrix4().makeScale(rect.width / area.width, rect.height / area.height, 1);
    lens.projectionMatrix.copy(fitted.multiply(new Matrix4().fromArray(camera.projectionMatrix)));
    lens.projectionMatrixInverse.copy(lens.projectionMatrix).invert();
    lens.matrix.fromArray(camera.viewMatrix).invert();
    lens.matrixWorld.copy(lens.matrix);
    lens.matrixWorldInverse.fromArray(camera.viewMatrix);
    const turned = turn?.what.includes('subject') ? turnMatrix(turn, turn.rotation) : null;
    loaded.subject.matrixAutoUpdate = false;
    const stood = place ? new Matrix4().fromArray(place.matrix) : new Matrix4();
    loaded.subject.matrix.copy(stood);
    if (turned) loaded.subject.matrix.premultiply(new Matrix4().fromArray(Array.from(turned)));
    loaded.subject.matrixWorldNeedsUpdate = true;
    loaded.isContext.matrixAutoUpdate = false;
    loaded.isContext.matrix.copy(stood);
    loaded.isContext.matrixWorldNeedsUpdate = true;
    gl.toneMappingExposure = 2 ** grade.exposure;
    invalidate();
  }, [lens, camera, rect, area, turn, loaded, gl, grade, placeKey, invalidate]);
  const backgroundKey = JSON.stringify([stage.backdrop, stage.displayReferred, stage.picture, grade]);
  useEffect(() => {
    const background = backgroundOf(stage, grade);
    scene.background = background;
    invalidate();
    return () => {
      if (background && 'dispose' in background) background.dispose();
    };
    // Equal numbers are the same backdrop, whichever object holds them.
  }, [backgroundKey, scene, invalidate]);
  useEffect(() => {
    gl.localClippingEnabled = true;
    // Cut open, not closed: caps are the engine's. A plane of one part alone is left to it too.
    const planes = (section?.planes ?? [])
      .filter((p) => p.part === undefined)
      .map(({ normal, offset }) => {
        const n = Math.hypot(...normal);
        return new Plane(new Vector3(...normal).divideScalar(-n), offset / n);
      });
    loaded.subject.traverse((object) => {
      const { material, userData } = object as Mesh;
      for (const m of new Set([material, userData.given as Material | undefined].flat())) {
        if (!(m instanceof Material)) continue;
        m.clippingPlanes = planes;
        m.clipShadows = true;
        m.side = planes.length > 0 ? DoubleSide : (m.userData.side as Side);
        m.needsUpdate = true;
      }
    });
    invalidate();
  }, [section, loaded, gl, invalidate]);
  useEffect(() => {
    applyMaterials(loaded, assignments, working, only, invalidate);
    invalidate();
  }, [loaded, assignments, working, only, invalidate]);
  useEffect(() => {
    highlight(loaded, selected, group);
    invalidate();
  }, [loaded, assignments, working, only, selected, group, invalidate]);
  useRaycastPicker(finder, loaded, lens, area);
  // A camera that moves changes no shadow, nor does what is marked.
  const shadowKey = JSON.stringify([turn, place, stage.lights, stage.base, section, stage.sky]);
  useEffect(() => {
    gl.shadowMap.autoUpdate = false;
    gl.shadowMap.needsUpdate = true;
    invalidate();
  }, [gl, loaded, shadowKey, assignments, working, only, invalidate]);
  const ghost = useMemo(() => over && ghostMaterial(over), [over]);
  useEffect(() => {
    if (ghost && place) new Matrix4().fromArray(place.matrix).decompose(ghost.position, ghost.quaternion, ghost.scale);
    invalidate();
  }, [ghost, placeKey, invalidate]);
  const { base, lights } = stage;
  const plane = useMemo(() => base && fadingDisc(base.inner, base.outer), [base]);
  const beams = lights.map((light) => lightBeam(light, middle)).filter((b) => b !== null);
  return (
    <>
      {beams.map((beam, i) => {
        const most = Math.max(...beam.irradiance);
        return (
          <directionalLight
            key={i}
            position={middle.map((c, k) => c + 2 * radius * beam.from[k]!) as Vec3}
            intensity={most}
            color={new Color(...beam.irradiance.map((c) => c / most))}
            castShadow={i === 0}
            shadow-mapSize={[2048, 2048]}
            shadow-normalBias={radius / 500}
            target={aim}
          >
            <orthographicCamera attach="shadow-camera" args={[-radius, radius, radius, -radius, 0.01 * radius, 4 * radius]} />
          </directionalLight>
        );
      })}
      {base && (
        <mesh receiveShadow rotation={[-Math.PI / 2, 0, 0]} position={[base.x, base.height - 1e-3, base.z]}>
          <primitive object={plane!} attach="geometry" />
          {base.shadowCatcher ? (
            <shadowMaterial opacity={0.4} transparent />
          ) : (
            <meshStandardMaterial
              color={new Color(...(base.material?.base ?? base.colour))}
              roughness={base.material?.roughness ?? base.roughness}
              metalness={base.material?.metalness ?? 0}
              vertexColors
              transparent
            />
          )}
        </mesh>
      )}
      <group>
        <primitive object={loaded.subject} />
        <primitive object={loaded.isContext} />
        {ghost && <primitive object={ghost} />}
        {plinth && (
          <mesh geometry={plinth} castShadow receiveShadow>
            <meshStandardMaterial color={plinthColour(place!.plinth!.material, assignments)} roughness={0.5} />
          </mesh>
        )}
      </group>
    </>
  );
}
