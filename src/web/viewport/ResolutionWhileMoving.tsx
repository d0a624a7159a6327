/** Draws fewer pixels while the camera moves where drawing is slow, and all of them once it stands. */
import { useThree } from '@react-three/fiber';
import { useEffect, useRef } from 'react';
import type { Camera } from '../../core/camera/view.js';

export function ResolutionWhileMoving({ camera }: { camera: Camera }): null {
  const { current, regress } = useThree((s) => s.performance);
  const setDpr = useThree((s) => s.setDpr);
  const whole = useThree((s) => s.viewport.initialDpr);
  const shown = useRef(camera);
  useEffect(() => {
    if (shown.current === camera) return;
    shown.current = camera;
    regress();
  }, [camera, regress]);
  useEffect(() => setDpr(whole * current), [whole, current, setDpr]);
  return null;
}
