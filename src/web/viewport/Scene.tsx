/** What the quick viewport draws: the model, lit by the frame's stage and seen by its camera. */
import { useThree } from '@react-three/fiber';
import { type ReactNode, useEffect, useMemo } from 'react';
import { Group, Matrix4, Sphere, Vector3 } from 'three';
import type { Camera, Size } from '../../core/camera/view.js';
import type { Turn } from '../../core/frame/frame.js';
import type { Grade } from '../../core/image/grade.js';
import type { Vec3 } from '../../core/math/bounds.js';
import type { ResolvedTransform } from '../../core/model/modelTransform.js';
import type { SetFile } from '../../core/plan/set.js';
import type { Stage } from '../../core/stage/stage.js';
import { applyMaterials } from './applyMaterials.js';
import type { FrameRect } from './frameRect.js';
import { highlight } from './highlight.js';
import { boundsOfObjects, ghostMaterial, type Loaded } from './loaded.js';
import { type Finder, useRaycastPicker } from './picking.js';
import { useBackground, useEnvironment, useLens, usePlacing, useSection } from './sceneHooks.js';
import { Beams, Ground, Plinth } from './SceneParts.js';

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
  place: given,
  working,
  selected,
  only,
  group,
  over,
  finder,
}: SceneProps): ReactNode {
  const { invalidate, gl } = useThree();
  // Equal numbers are the same place, whichever object holds them.
  const place = useMemo(() => given, [JSON.stringify(given)]);
  const { middle, radius } = useMemo(() => {
    const box = boundsOfObjects(loaded.subject);
    if (place) box.applyMatrix4(new Matrix4().fromArray(place.matrix));
    return { middle: box.getCenter(new Vector3()).toArray() as Vec3, radius: 1.2 * box.getBoundingSphere(new Sphere()).radius };
  }, [loaded, place]);
  const aim = useMemo(() => {
    const target = new Group();
    target.position.set(...middle);
    target.updateMatrixWorld();
    return target;
  }, [middle]);
  useEnvironment(stage, middle);
  const lens = useLens(camera, rect, area);
  usePlacing(loaded, place, turn);
  useBackground(stage, grade);
  useSection(loaded, section);
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
  }, [ghost, place, invalidate]);
  return (
    <>
      <Beams stage={stage} middle={middle} radius={radius} aim={aim} />
      {stage.base && <Ground base={stage.base} />}
      <group>
        <primitive object={loaded.subject} />
        <primitive object={loaded.isContext} />
        {ghost && <primitive object={ghost} />}
        {place?.plinth && <Plinth plinth={place.plinth} materials={assignments} />}
      </group>
    </>
  );
}
