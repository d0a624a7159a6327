import type { ReactNode } from 'react';
import type { Frame } from '../../../../core/frame/frame.js';
import type { InstrumentProps } from '../editorProps.js';
import { LABELS } from './words.js';

const R = 108;

/** Where angle a (degrees, counterclockwise from the front) stands on the dial; the front is below. */
function at(angle: number, radius: number): [number, number] {
  const t = (angle * Math.PI) / 180;
  return [radius * Math.sin(t), radius * Math.cos(t)];
}

/** A tick a frame, seen from above: how the subject is seen to turn before the eye at the bottom. */
export function TurntableDial({ frames, index, onIndex }: InstrumentProps): ReactNode {
  const current = frames[index];
  // Where the camera turns instead, the subject is seen to turn the other way.
  const seen = (f: Frame): number => (f.turn ? f.turn.rotation * (f.turn.what.includes('subject') ? 1 : -1) : 0);
  const every = Math.max(1, Math.ceil(frames.length / 360));
  const [hx, hy] = current ? at(seen(current), R) : [0, R];
  const step = frames.length > 1 ? Math.abs(frames[1]!.turn!.angle - frames[0]!.turn!.angle) : 0;
  return (
    <svg viewBox="-170 -150 340 300" className="h-full w-full select-none" role="img" aria-label={LABELS.turntableDial(frames.length)}>
      <text x="-164" y="-132" className="fill-graphite" fontSize="12">
        {LABELS.perFrame(Number(step.toFixed(3)))}
      </text>
      {frames.map((f, i) => {
        if (i % every !== 0 && i !== index) return null;
        const major = i % (every * 6) === 0;
        const [x0, y0] = at(seen(f), R - (major ? 12 : 6));
        const [x1, y1] = at(seen(f), R + (i === 0 ? 8 : 0));
        const [tx, ty] = at(seen(f), R);
        return (
          <g key={i} onClick={() => onIndex(i)} className="cursor-pointer">
            <circle cx={tx} cy={ty} r="6" fill="transparent" />
            <line x1={x0} y1={y0} x2={x1} y2={y1} className={i <= index ? 'stroke-madder' : 'stroke-graphite'} strokeWidth={major ? 1.4 : 1} />
          </g>
        );
      })}
      <line x1="0" y1="0" x2={hx} y2={hy} className="stroke-madder" strokeWidth="1.6" />
      <g transform={`rotate(${current ? -seen(current) : 0})`}>
        <rect x="-26" y="-14" width="52" height="28" className="fill-none stroke-ink" strokeWidth="1.2" />
        <line x1="-9" y1="14" x2="9" y2="14" className="stroke-ink" strokeWidth="3" />
      </g>
      <circle r="3.5" className="fill-madder" />
      <path d="M0 128 l-7 14 h14 z" className="fill-none stroke-graphite" />
      {current && (
        <text x={hx * 1.16} y={hy * 1.16} textAnchor={hx > 4 ? 'start' : hx < -4 ? 'end' : 'middle'} className="num fill-madder" fontSize="12">
          {current.number} · {Number(current.turn!.angle.toFixed(2))}°
        </text>
      )}
    </svg>
  );
}
