import { type ReactNode } from 'react';
import { type Frame } from '../../../core/plan/frame.js';
import { frameCount, kindOf, type Shot, shotName } from '../../../core/shot/kinds.js';
import { type Site } from '../../../core/stage/site.js';
import { frameTime, parseRate } from '../../../core/units/rate.js';
import { type View } from '../../../core/view/camera.js';
import { timecode } from '../../../core/units/timecode.js';
import { Small, smallUrl } from '../../ui/small.js';

const CELL = 48;
const STRIP = 432;

interface RegisterProps {
  shots: Shot[];
  framesOf: Map<string, Frame[]>;
  rate: string;
  views: View[];
  site: Site | undefined;
  setId: number;
  revision: number;
  version: number;
  selected: string | undefined;
  onSelect: (id: string) => void;
}

/** Indices of the small frames that a strip of that width shows. */
function strip(count: number, width: number): number[] {
  const cells = Math.max(1, Math.min(count, Math.floor(width / CELL)));
  return Array.from({ length: cells }, (_, i) => Math.floor((i * count) / cells));
}

/** A row a shot; strips of moving shots stand on one common time scale. */
export function Register({ shots, framesOf, rate, views, site, setId, revision, version, selected, onSelect }: RegisterProps): ReactNode {
  const exact = parseRate(rate);
  const lengths = shots.filter((s) => kindOf(s).moving).map((s) => frameTime(framesOf.get(s.id)?.length ?? 0, exact));
  const seconds = Math.max(1, Math.ceil(Math.max(0, ...lengths)));
  const every = Math.ceil(seconds / 8);
  return (
    <div className="min-h-0 overflow-auto">
      <table className="w-full border-collapse text-sm">
        <thead className="font-head text-left">
          <tr className="border-b border-rule">
            <th className="w-10 py-1 pl-[18px] font-semibold">No.</th>
            <th className="w-48 font-semibold">Shot</th>
            <th className="w-24 font-semibold">Kind</th>
            <th className="relative num text-xs font-medium" style={{ width: STRIP }}>
              {Array.from({ length: Math.floor(seconds / every) + 1 }, (_, i) => (
                <span key={i} className="absolute bottom-1" style={{ left: Math.min(STRIP - 22, ((i * every) / seconds) * STRIP) }}>
                  {i * every}s
                </span>
              ))}
            </th>
            <th className="text-right font-semibold">Frames</th>
            <th className="text-right font-semibold">Length</th>
            <th className="pl-6 pr-[18px] font-semibold">What</th>
          </tr>
        </thead>
        <tbody>
          {shots.map((shot, i) => {
            const kind = kindOf(shot);
            const count = framesOf.get(shot.id)?.length ?? frameCount(shot, { rate: exact, views, site });
            const width = kind.moving ? Math.max(CELL, (frameTime(count, exact) / seconds) * STRIP) : Math.min(STRIP, count * CELL);
            const on = shot.id === selected;
            return (
              <tr
                key={shot.id}
                aria-selected={on}
                onClick={() => onSelect(shot.id)}
                className={`h-9 cursor-pointer border-b border-rule ${on ? 'bg-chalk' : ''} ${shot.off ? 'opacity-50' : ''}`}
                style={on ? { boxShadow: 'inset 3px 0 0 var(--color-madder)' } : undefined}
              >
                <td className="num pl-[18px]">{String(i + 1).padStart(2, '0')}</td>
                <td className="max-w-48 truncate pr-3">
                  <button type="button" className="font-medium" onClick={() => onSelect(shot.id)}>
                    {shotName(shot)}
                  </button>
                </td>
                <td className="text-graphite">{kind.label}</td>
                <td>
                  <span className={`flex overflow-hidden ${on ? 'outline outline-1 outline-ink' : ''}`} style={{ width }}>
                    {(count > 0 ? strip(count, width) : []).map((index) => (
                      <Small
                        key={index}
                        src={smallUrl(setId, revision, { shot: shot.id, index }, version, 96)}
                        alt=""
                        className="h-[27px] min-w-0 flex-1"
                      />
                    ))}
                  </span>
                </td>
                <td className="num text-right">{count}</td>
                <td className="num text-right text-graphite">{kind.moving ? timecode(count, exact) : '–'}</td>
                <td className="whitespace-nowrap pl-6 pr-[18px] text-graphite">{shot.off ? 'switched off' : kind.summary(shot, exact)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
