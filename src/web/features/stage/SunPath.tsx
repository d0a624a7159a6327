/** The sun's ways over a site, stereographic: days, hours, the present sun to be dragged, and what the design hides. */
import { type KeyboardEvent, type PointerEvent, type ReactNode, useMemo, useRef, useState } from 'react';
import type { SilhouetteReply } from '../../../contract/daylight.js';
import { type LocalDateTime, localTimeOf, instantOf } from '../../../core/units/localTime.js';
import type { Site } from '../../../core/stage/site.js';
import {
  type ArcPoint,
  dayArc,
  simplifyDrawnPath,
  hourLines,
  nearestOnDay,
  project,
  type SkyPoint,
  YEAR_MARKS,
} from '../../../core/stage/sunPath.js';
import { LABELS, MESSAGES } from './daylightWords.js';

const R = 100;
const at = (p: SkyPoint): [number, number] => {
  const [x, y] = project(p);
  return [x * R, y * R];
};

/** A line of what stands above the horizon; it breaks where the sun goes down. */
function line(points: SkyPoint[]): string {
  let up = false;
  return points
    .map((p) => {
      if (p.altitude < 0) {
        up = false;
        return '';
      }
      const [x, y] = at(p);
      const step = `${up ? 'L' : 'M'}${x.toFixed(2)} ${y.toFixed(2)}`;
      up = true;
      return step;
    })
    .join('');
}

/** The cells of a silhouette as one outline of small quadrilaterals. */
function shape({ step, across, up, cells }: SilhouetteReply): string {
  let path = '';
  for (let row = 0; row < up; row++) {
    for (let column = 0; column < across; column++) {
      if (cells[row * across + column] !== '1') continue;
      let last = column;
      while (last + 1 < across && cells[row * across + last + 1] === '1') last++;
      const low: [number, number][] = [];
      const high: [number, number][] = [];
      for (let k = column; k <= last + 1; k++) {
        low.push(at({ azimuth: k * step, altitude: row * step }));
        high.unshift(at({ azimuth: k * step, altitude: (row + 1) * step }));
      }
      path += `M${[...low, ...high].map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join('L')}Z`;
      column = last;
    }
  }
  return path;
}

/** The sky that is drawn. */
export interface SunPathProps {
  site: Site;
  date: string;
  /** The sun that is shown, with its time where it has one. */
  sun: SkyPoint & Partial<LocalDateTime>;
  /** Suns of a shot's frames; the chosen one among them. */
  frames?: SkyPoint[];
  silhouette?: SilhouetteReply;
  /** A way of the sun was drawn by hand: places along it. */
  onDraw?: (places: SkyPoint[]) => void;
  /** The sun is dragged along its day: `done` when it is let go. Absent: it stays. */
  onTime?: (civil: LocalDateTime, done: boolean) => void;
}

/** The sun's paths over the sky, with the sun that is shown. */
export function SunPath({ site, date, sun, frames = [], silhouette, onTime, onDraw }: SunPathProps): ReactNode {
  const svg = useRef<SVGSVGElement>(null);
  const year = Number(date.slice(0, 4));
  const { marks, hours } = useMemo(
    () => ({ marks: YEAR_MARKS.map(({ name, day }) => ({ name, arc: dayArc(site, `${year}-${day}`) })), hours: hourLines(site, year) }),
    [site, year],
  );
  const own = useMemo<ArcPoint[]>(() => dayArc(site, date, 5), [site, date]);
  const outline = useMemo(() => (silhouette ? shape(silhouette) : ''), [silhouette]);
  const drag = useRef<LocalDateTime | null>(null);
  const [sx, sy] = at(sun);
  const shown = sun.altitude > -1;
  const [drawn, setDrawn] = useState<[number, number][]>([]);
  const place = (e: PointerEvent): [number, number] => {
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.current!.getScreenCTM()!.inverse());
    return [p.x / R, p.y / R];
  };
  const move = (e: PointerEvent): void => {
    if (drawn.length > 0) {
      const at = place(e);
      if (Math.hypot(...at) <= 1) setDrawn([...drawn, at]);
      return;
    }
    if (!drag.current || !svg.current || !onTime) return;
    const m = svg.current.getScreenCTM()!.inverse();
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(m);
    drag.current = localTimeOf(nearestOnDay(site, date, p.x / R, p.y / R), site.timeZone);
    onTime(drag.current, false);
  };
  const drop = (): void => {
    const places = drawn.length > 0 ? simplifyDrawnPath(drawn) : null;
    setDrawn([]);
    if (places) onDraw?.(places);
    if (drag.current && onTime) onTime(drag.current, true);
    drag.current = null;
  };
  const step = (e: KeyboardEvent): void => {
    const way = e.key === 'ArrowRight' || e.key === 'ArrowUp' ? 1 : e.key === 'ArrowLeft' || e.key === 'ArrowDown' ? -1 : 0;
    if (way === 0 || !onTime || !sun.time) return;
    e.preventDefault();
    e.stopPropagation();
    const next = localTimeOf(
      instantOf({ date, time: sun.time, later: sun.later }, site.timeZone).at + way * (e.shiftKey ? 60 : 10) * 60_000,
      site.timeZone,
    );
    // The day is chosen by its own field.
    if (next.date === date) onTime(next, true);
  };
  return (
    <svg
      ref={svg}
      viewBox="-122 -118 244 236"
      className={`h-full w-full touch-none select-none ${onDraw ? 'cursor-crosshair' : ''}`}
      role="group"
      aria-label={LABELS.sunPathOf(date)}
      onPointerDown={(e) => {
        if (!onDraw || Math.hypot(...place(e)) > 1) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        setDrawn([place(e)]);
      }}
      onPointerMove={move}
      onPointerUp={drop}
      onPointerCancel={drop}
    >
      <circle r={R} className="fill-chalk stroke-ink" strokeWidth="1" />
      {outline && <path d={outline} className="fill-rule" data-testid="silhouette" />}
      {[30, 60].map((altitude) => (
        <g key={altitude}>
          <circle r={at({ azimuth: 180, altitude })[1]} className="fill-none stroke-rule" strokeWidth="0.8" />
          <text x="2" y={-at({ azimuth: 180, altitude })[1] + 9} className="num fill-graphite" fontSize="8">
            {altitude}°
          </text>
        </g>
      ))}
      {Array.from({ length: 12 }, (_, i) => {
        const [x, y] = at({ azimuth: i * 30, altitude: 0 });
        const word = i % 3 === 0 ? 'NESW'[i / 3]! : String(i * 30);
        return (
          <g key={i}>
            <line x1={x} y1={y} x2={x * 1.03} y2={y * 1.03} className="stroke-ink" strokeWidth="1" />
            <text
              x={x * 1.11}
              y={y * 1.11 + 3.5}
              textAnchor="middle"
              className={i % 3 === 0 ? 'fill-ink font-semibold' : 'num fill-graphite'}
              fontSize={i % 3 === 0 ? 11 : 8}
            >
              {word}
            </text>
          </g>
        );
      })}
      {hours.map(({ hour, points }) => (
        <path key={hour} d={line(points)} className="fill-none stroke-rule" strokeWidth="0.9" />
      ))}
      {marks.map(({ name, arc }) => (
        <path key={name} d={line(arc)} className="fill-none stroke-graphite" strokeWidth="0.9">
          <title>{name}</title>
        </path>
      ))}
      {hours.map(({ hour, points }) => {
        // Labelled where the hour meets the longest day.
        const best = points.reduce((a, b) => (b.altitude > a.altitude ? b : a));
        if (best.altitude < 3 || hour % 3 !== 0) return null;
        const [x, y] = at({ azimuth: best.azimuth, altitude: best.altitude });
        return (
          <text key={hour} x={x * 0.86} y={y * 0.86 + 3} textAnchor="middle" className="num fill-graphite" fontSize="8">
            {hour}
          </text>
        );
      })}
      <path d={line(own)} className="fill-none stroke-cobalt" strokeWidth="1.8" />
      {frames.map((f, i) => {
        if (f.altitude < 0) return null;
        const [x, y] = at(f);
        return <circle key={i} cx={x} cy={y} r="2.4" className="fill-chalk stroke-cobalt" strokeWidth="1.2" />;
      })}
      {drawn.length > 1 && (
        <polyline points={drawn.map(([x, y]) => `${x * R},${y * R}`).join(' ')} className="fill-none stroke-madder" strokeWidth="1.6" />
      )}
      {shown && (
        <g
          {...(onTime && {
            role: 'slider',
            tabIndex: 0,
            'aria-label': LABELS.sunHandle,
            'aria-valuenow': Math.round(sun.altitude),
            'aria-valuetext': MESSAGES.azimuthAltitude(sun.time ?? '', sun.azimuth.toFixed(1), sun.altitude.toFixed(1)),
          })}
          data-testid="sun-mark"
          className={onTime ? 'cursor-grab' : ''}
          onKeyDown={step}
          onPointerDown={(e) => {
            if (!onTime) return;
            svg.current?.setPointerCapture(e.pointerId);
            drag.current = { date, time: sun.time ?? '12:00' };
          }}
        >
          <circle cx={sx} cy={sy} r="12" fill="transparent" />
          <circle cx={sx} cy={sy} r="5.5" className="fill-madder stroke-chalk" strokeWidth="1.5" />
        </g>
      )}
    </svg>
  );
}
