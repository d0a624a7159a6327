import { type ReactNode } from 'react';
import { type Shot } from '../../../../core/shot/kinds.js';
import { useDesk } from '../../../shell/desk.js';
import { Tick } from '../../../ui/controls.js';
import { type FieldsProps } from './common.js';

export function Still({ shot, put }: FieldsProps<Extract<Shot, { kind: 'still' }>>): ReactNode {
  const { plan } = useDesk();
  return (
    <fieldset className="min-h-0 overflow-auto">
      <legend className="font-head text-xs font-medium text-graphite">Views</legend>
      {plan!.file.views.map((v) => (
        <Tick
          key={v.id}
          label={v.name}
          checked={shot.views.includes(v.id)}
          onChecked={(on) => {
            const views = plan!.file.views.map((x) => x.id).filter((id) => (id === v.id ? on : shot.views.includes(id)));
            if (views.length > 0) put({ ...shot, views });
          }}
        />
      ))}
    </fieldset>
  );
}
