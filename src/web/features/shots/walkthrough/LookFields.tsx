import type { ReactNode } from 'react';
import type { View } from '../../../../core/camera/view.js';
import type { Vec3 } from '../../../../core/math/bounds.js';
import type { WalkthroughShot } from '../../../../core/shots/walkthrough/walkthrough.js';
import { NumberField, Select } from '../../../ui/controls.js';
import type { FieldsProps } from '../fieldsProps.js';
import { HELP, LABELS } from './words.js';

/** Where the camera looks on its way. */
export function LookFields({ shot, put, views }: FieldsProps<WalkthroughShot> & { views: View[] }): ReactNode {
  const setLook = (look: WalkthroughShot['look']): void => {
    const fallback = views[0]!.target as Vec3;
    put({
      ...shot,
      look,
      ...(look === 'target' && { target: shot.target ?? fallback }),
      ...(look === 'stations' && { stations: shot.stations.map((s) => (s.view || s.target ? s : { ...s, target: shot.target ?? fallback })) }),
    });
  };
  return (
    <>
      <Select
        label={LABELS.look}
        help={HELP.look}
        value={shot.look}
        options={[
          { value: 'ahead', label: LABELS.ahead },
          { value: 'target', label: LABELS.atAPoint },
          { value: 'stations', label: LABELS.byStation },
        ]}
        onValue={(look) => setLook(look as WalkthroughShot['look'])}
      />
      {shot.look === 'target' && shot.target && (
        <div className="grid grid-cols-3 gap-3">
          {(['x', 'y', 'z'] as const).map((axis, k) => (
            <NumberField
              key={axis}
              label={LABELS.point(axis)}
              help={HELP.metresTheCameraLooks}
              value={shot.target![k]!}
              quantity="length"
              unit="m"
              onValue={(v) => put({ ...shot, target: shot.target!.map((c, i) => (i === k ? v : c)) as Vec3 })}
            />
          ))}
        </div>
      )}
    </>
  );
}
