/**
 * Draws into a corner of the canvas, whose pixels stay: to give a canvas other pixels waits for all that is being drawn.
 * While the camera moves where drawing is slow, fewer pixels are drawn and shown larger.
 */
import { useFrame, useThree } from '@react-three/fiber';
import { useEffect, useRef } from 'react';
import type { Camera, Size } from '../../core/camera/view.js';

/** Sets what of a context is drawn; shows nothing itself. */
export function DrawnArea({ area, camera }: { area: Size; camera: Camera }): null {
  const { current, regress } = useThree((s) => s.performance);
  const invalidate = useThree((s) => s.invalidate);
  const shown = useRef(camera);
  useEffect(() => {
    if (shown.current === camera) return;
    shown.current = camera;
    regress();
  }, [camera, regress]);
  useEffect(() => invalidate(), [current, area.width, area.height, invalidate]);
  // In the same moment as it is drawn, or one picture would be shown at the other's scale.
  useFrame(({ gl, size }) => {
    const [width, height] = [area.width * current, area.height * current];
    gl.setViewport(0, size.height - height, width, height);
    gl.setScissor(0, size.height - height, width, height);
    gl.setScissorTest(true);
    gl.domElement.style.transformOrigin = '0 0';
    gl.domElement.style.transform = current === 1 ? '' : `scale(${1 / current})`;
  });
  return null;
}
