/** What is in a pixel: part, material, distance, position, radiance. */
import { Fragment, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { Picked } from './messages.js';
import { LABELS } from './words.js';

/** With the way to its part. */
export function PixelInspector({ picked, to }: { picked: Picked; to: string }): ReactNode {
  const number = (v: number): string => v.toFixed(3);
  const rows: [string, ReactNode][] = [
    [LABELS.part, picked.part ? <Link to={`${to}?part=${encodeURIComponent(picked.part.split('/').at(-1)!)}`}>{picked.part}</Link> : 'none'],
    [LABELS.material, picked.material ?? 'none'],
    [LABELS.distance, picked.distance === null ? '–' : `${number(picked.distance)} m`],
    [LABELS.position, picked.place ? picked.place.map(number).join(' ') : '–'],
    [LABELS.radiance, picked.colour.map(number).join(' ')],
  ];
  return (
    <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 gap-y-1 border-t border-rule pt-3 text-sm" data-testid="picked">
      {rows.map(([label, value]) => (
        <Fragment key={label}>
          <dt className="text-graphite">{label}</dt>
          <dd className={`break-words ${label === LABELS.material ? '' : label === LABELS.part ? 'text-cobalt underline' : 'num'}`}>{value}</dd>
        </Fragment>
      ))}
    </dl>
  );
}
