/** What the viewport's scene follows of the frame: camera, place, environment, backdrop, section. */
import { useEffect, useMemo } from 'react';
import { useThree } from '@react-three/fiber';
import { DoubleSide, Material, Matrix4, type Mesh, PerspectiveCamera, Plane, type Side, Vector3 } from 'three';
import { type Camera, type Size, turnMatrix } from '../../core/camera/view.js';
import type { Turn } from '../../core/frame/frame.js';
import type { Grade } from '../../core/image/grade.js';
import type { Vec3 } from '../../core/math/bounds.js';
import type { ResolvedTransform } from '../../core/model/modelTransform.js';
import type { SetFile } from '../../core/plan/set.js';
import type { Stage } from '../../core/stage/stage.js';
import { backgroundOf } from './background.js';
import type { FrameRect } from './frameRect.js';
import { environmentTexture } from './light.js';
import type { Loaded } from './loaded.js';

/** Lights the scene by the stage's surroundings as they are seen from `middle`. */
export function useEnvironment(stage: Stage, middle: Vec3): void {
  const { scene, invalidate } = useThree();
  const environment = useMemo(() => environmentTexture(stage, middle), [stage, middle]);
  useEffect(() => {
    scene.environment = environment;
    invalidate();
    return () => environment.dispose();
  }, [environment, scene, invalidate]);
}

/** The camera that draws: the frame's, fitted into its rectangle of the canvas. */
export function useLens(camera: Camera, rect: FrameRect, area: Size): PerspectiveCamera {
  const { set, invalidate } = useThree();
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
    invalidate();
  }, [lens, camera, rect, area, invalidate]);
  return lens;
}

/** Puts the model where its set has it, and turns the subject as the frame does. `place` must be the same object as long as its numbers are equal. */
export function usePlacing(loaded: Loaded, place: ResolvedTransform | undefined, turn: Turn | undefined): void {
  const { invalidate } = useThree();
  useEffect(() => {
    const turned = turn?.what.includes('subject') ? turnMatrix(turn, turn.rotation) : null;
    loaded.subject.matrixAutoUpdate = false;
    const stood = place ? new Matrix4().fromArray(place.matrix) : new Matrix4();
    loaded.subject.matrix.copy(stood);
    if (turned) loaded.subject.matrix.premultiply(new Matrix4().fromArray(Array.from(turned)));
    loaded.subject.matrixWorldNeedsUpdate = true;
    loaded.isContext.matrixAutoUpdate = false;
    loaded.isContext.matrix.copy(stood);
    loaded.isContext.matrixWorldNeedsUpdate = true;
    invalidate();
  }, [turn, loaded, place, invalidate]);
}

/** Shows the backdrop and what else is behind the model, at the grade's exposure. */
export function useBackground(stage: Stage, grade: Grade): void {
  const { scene, gl, invalidate } = useThree();
  useEffect(() => {
    gl.toneMappingExposure = 2 ** grade.exposure;
    invalidate();
  }, [gl, grade, invalidate]);
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
}

/** Cuts the model open where the section does. */
export function useSection(loaded: Loaded, section: SetFile['section']): void {
  const { gl, invalidate } = useThree();
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
}
