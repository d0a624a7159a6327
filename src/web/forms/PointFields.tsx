/** A point by its three numbers, metres. */
import type { ReactNode } from 'react';
import type { Vec3 } from '../../core/math/bounds.js';
import { NumberField } from '../ui/controls.js';

interface PointFieldsProps {
  /** Label before the name of each axis. */
  label: string;
  help: string;
  point: Readonly<Vec3>;
  /** Metres that an arrow key moves by. */
  step?: number;
  /** Takes the changed point; returns what is wrong with it, or null. */
  onPoint: (point: Vec3) => string | null;
}

/** Three numbers of a point. */
export function PointFields({ label, help, point, step = 0.05, onPoint }: PointFieldsProps): ReactNode {
  return (
    <div className="grid grid-cols-3 gap-x-3">
      {['x', 'y', 'z'].map((axis, i) => (
        <NumberField
          key={axis}
          label={`${label} ${axis}`}
          help={help}
          value={point[i]!}
          quantity="length"
          unit="m"
          step={step}
          onValue={(v) => onPoint(point.map((c, k) => (k === i ? v : c)) as Vec3)}
        />
      ))}
    </div>
  );
}
