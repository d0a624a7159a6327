/** What stands under the pointer in the quick viewport. */
import { useThree } from '@react-three/fiber';
import { type RefObject, useEffect } from 'react';
import { type Camera, type Mesh, type Object3D, Raycaster, Vector2, type Vector3 } from 'three';
import type { Size } from '../../core/camera/view.js';
import type { Vec3 } from '../../core/math/bounds.js';
import type { Loaded } from './loaded.js';
import { groupOf, pathOf } from './applyMaterials.js';

/** What was met under the pointer. */
export interface Hit {
  /** Of the part; null where it is none, as a plinth. */
  path: string | null;
  /** The group of the part's faces, counted from 1. */
  group: number;
  /** Where, in the world. */
  point: Vec3;
}

/** A click on something that stands there. */
export interface PartClick extends Hit {
  /** To be added to what is marked. */
  more: boolean;
  /** The group of faces is meant, not the part. */
  faces: boolean;
}

/** Holds the way to tell what stands at a place of the page, while there is a scene. */
export type Finder = RefObject<((x: number, y: number) => Hit | null) | null>;

const hitOf = (object: Object3D, point: Vector3): Hit => ({
  path: pathOf(object),
  group: groupOf(object) + 1,
  point: point.toArray() as Vec3,
});

/** A section hides what it cuts away, but rays meet it all the same. */
function isCutAway(object: Object3D, point: Vector3): boolean {
  const [material] = [(object as Mesh).material].flat();
  return (material?.clippingPlanes ?? []).some((p) => p.distanceToPoint(point) < 0);
}

/** Gives the finder that says what stands at a place of the window. */
export function useRaycastPicker(finder: Finder, { subject, isContext: surroundings, batches }: Loaded, lens: Camera, area: Size): void {
  const gl = useThree((state) => state.gl);
  useEffect(() => {
    finder.current = (x, y) => {
      const { left, top } = gl.domElement.getBoundingClientRect();
      batches?.settle();
      const ray = new Raycaster();
      ray.setFromCamera(new Vector2(((x - left) / area.width) * 2 - 1, 1 - ((y - top) / area.height) * 2), lens);
      const hit = ray.intersectObjects([subject, surroundings]).find(({ object, point }) => object.visible && !isCutAway(object, point));
      return hit ? hitOf(hit.object, hit.point) : null;
    };
    return () => {
      finder.current = null;
    };
  }, [finder, gl, lens, area, subject, surroundings, batches]);
}
