/** A walk on the plan: stations that are dragged, the path between them, the frame's eye; speed and turning over the frames. */
import { type KeyboardEvent, type ReactNode, useState } from 'react';
import useSWR from 'swr';
import type { ClearanceReply } from '../../../../contract/clearance.js';
import type { Vec3 } from '../../../../core/math/bounds.js';
import { MIN_CLEARANCE } from '../../../../core/shots/walkthrough/clearance.js';
import type { Shot } from '../../../../core/shots/kinds.js';
import { CROSSING_SECONDS, walkStats, walkOf, WALKING_PACE, type WalkthroughShot } from '../../../../core/shots/walkthrough/walkthrough.js';
import { angleOfView } from '../../../../core/camera/view.js';
import { planSquare } from '../../../../core/camera/orthographic.js';
import { LineChart } from '../../../charts/LineChart.js';
import { send } from '../../../state/api.js';
import type { InstrumentProps } from '../editorProps.js';
import { arrowWay, PlanCanvas } from '../../../viewport/PlanCanvas.js';
import { LABELS, MESSAGES } from './words.js';

/** Places of the path at which its room is asked for. */
const MAX_QUERIED_POINTS = 160;
/** Steps that a leg is drawn in. */
const STEPS = 24;

/** Puts a station elsewhere; one that stood on a view stands by itself from then on. */
function replaceStation(shot: WalkthroughShot, index: number, eye: Vec3, target: Vec3 | null): WalkthroughShot {
  return {
    ...shot,
    stations: shot.stations.map((s, i) => (i === index ? { ...s, view: undefined, eye, ...(shot.look === 'stations' && target && { target }) } : s)),
  };
}

function WalkStats({ frames, index, most }: { frames: InstrumentProps['frames']; index: number; most: number }): ReactNode {
  const figures = walkStats(frames).map((f, i) => ({ frame: frames[i]!.number, ...f }));
  if (figures.length < 2) return null;
  const chart = (key: 'speed' | 'turn', limit: number, label: string, help: string): ReactNode => (
    <figure className="min-w-0 flex-1" title={help}>
      <figcaption className="font-head text-xs font-medium text-graphite">{label}</figcaption>
      <LineChart
        data={figures.map((f) => ({ frame: f.frame, value: f[key] }))}
        height={74}
        limit={limit}
        decimals={1}
        ticks={3}
        {...(figures[index] && { mark: frames[index]!.number })}
      />
    </figure>
  );
  return (
    <div className="flex shrink-0 gap-3">
      {chart('speed', WALKING_PACE, LABELS.speedMS, MESSAGES.theDashedLineIs)}
      {chart('turn', most, LABELS.turningS, MESSAGES.belowTheDashedLine(CROSSING_SECONDS))}
    </div>
  );
}

/** The path on the plan of the design, dragged. */
export function WalkthroughEditor({ shot: any, put, frames, index, desk }: InstrumentProps): ReactNode {
  const shot = any as Extract<Shot, { kind: 'walkthrough' }>;
  const [drag, setDrag] = useState<{ index: number; eye: Vec3 } | null>(null);
  const walk = walkOf(shot, desk.views);
  const shown = drag ? walkOf(replaceStation(shot, drag.index, drag.eye, walk.targets[drag.index]!), desk.views) : walk;
  const frame = frames[index]!;
  const way = frame.camera.target.map((v, i) => v - frame.camera.eye[i]!);
  const path = shown.legs.map((leg) => Array.from({ length: STEPS + 1 }, (_, k) => leg.at(k / STEPS)));
  const line = (points: Vec3[]): string => points.map(([x, , z], i) => `${i === 0 ? 'M' : 'L'}${x} ${z}`).join('');
  const square = planSquare(desk.bounds);
  const every = Math.ceil(frames.length / MAX_QUERIED_POINTS);
  const asked = frames.filter((_, i) => i % every === 0);
  const { data: room } = useSWR<ClearanceReply, Error>(
    [`/sets/${desk.set}/clearance?revision=${desk.revision}`, desk.version, shot.id],
    ([path]: [string]) => send<ClearanceReply>('POST', path, { points: asked.map((f) => f.camera.eye), stations: walk.eyes }),
    { keepPreviousData: true },
  );
  const tight = asked.flatMap((f, i) => {
    const clear = room?.clear[i];
    return typeof clear === 'number' && clear < MIN_CLEARANCE ? [{ frame: f, clear }] : [];
  });
  const nearest = tight.reduce<(typeof tight)[number] | null>((a, b) => (a && a.clear <= b.clear ? a : b), null);
  // A thing crosses the frame in so many seconds.
  const most = angleOfView(shot.focalLength) / CROSSING_SECONDS;
  const heights = shown.eyes.map((e) => e[1]);
  const step = (i: number) => (e: KeyboardEvent) => {
    const ways = arrowWay(e.key);
    if (!ways) return;
    e.preventDefault();
    e.stopPropagation();
    const by = square.side * (e.shiftKey ? 0.1 : 0.01);
    const [x, y, z] = walk.eyes[i]!;
    put(replaceStation(shot, i, [x + by * ways[0], y, z + by * ways[1]], walk.targets[i]!));
  };
  return (
    <div className="flex h-full min-h-0 flex-col gap-1">
      <div className="min-h-0 flex-1">
        <PlanCanvas
          label={LABELS.walkthroughPlan}
          picture={desk.drawing('plan', Math.round(heights[0]! * 100) / 100)}
          square={square}
          reach={shown.eyes.map(([x, , z]) => [x, z])}
          {...(desk.site && { north: desk.site.north })}
          onDrag={([x, z]) => drag && setDrag({ ...drag, eye: [x, drag.eye[1], z] })}
          onDrop={() => {
            if (drag) put(replaceStation(shot, drag.index, drag.eye, walk.targets[drag.index]!));
            setDrag(null);
          }}
        >
          {(unit) => (
            <>
              {path.map((points, i) => {
                const out = shown.stations[i + 1]?.out;
                return (
                  <g key={i}>
                    <path d={line(points)} className="fill-none stroke-chalk" strokeWidth={3.4 * unit} />
                    <path
                      d={line(points)}
                      className="fill-none stroke-cobalt"
                      strokeWidth={1.6 * unit}
                      strokeDasharray={out ? `${2 * unit} ${2 * unit}` : undefined}
                    />
                  </g>
                );
              })}
              <g transform={`translate(${frame.camera.eye[0]} ${frame.camera.eye[2]}) rotate(${(Math.atan2(way[0]!, -way[2]!) * 180) / Math.PI})`}>
                <path d={`M0 0L${-9 * unit} ${-18 * unit}H${9 * unit}Z`} className="fill-madder/15 stroke-madder" strokeWidth={unit} />
                <circle r={3 * unit} className="fill-madder" />
              </g>
              {tight.map(({ frame: f }) => (
                <circle
                  key={f.number}
                  cx={f.camera.eye[0]}
                  cy={f.camera.eye[2]}
                  r={2.2 * unit}
                  className="fill-ochre stroke-chalk"
                  strokeWidth={0.6 * unit}
                />
              ))}
              {shown.eyes.map(([x, y, z], i) => (
                <g
                  key={i}
                  role="slider"
                  tabIndex={0}
                  aria-label={LABELS.station(i + 1)}
                  aria-valuenow={x}
                  aria-valuetext={MESSAGES.xMZM(x.toFixed(2), z.toFixed(2), y.toFixed(2))}
                  className="cursor-grab"
                  onPointerDown={() => setDrag({ index: i, eye: walk.eyes[i]! })}
                  onKeyDown={step(i)}
                >
                  <circle cx={x} cy={z} r={9 * unit} fill="transparent" />
                  <rect
                    x={x - 4.5 * unit}
                    y={z - 4.5 * unit}
                    width={9 * unit}
                    height={9 * unit}
                    className="fill-chalk stroke-ink"
                    strokeWidth={1.2 * unit}
                  />
                  <text x={x} y={z + 2.6 * unit} textAnchor="middle" className="num fill-ink" fontSize={7 * unit}>
                    {i + 1}
                  </text>
                </g>
              ))}
            </>
          )}
        </PlanCanvas>
      </div>
      {nearest && (
        <div role="status" className="flex shrink-0 flex-wrap items-baseline gap-x-3 text-sm text-ochre">
          <span>
            {LABELS.frame} <span className="num">{nearest.frame.number}</span> {LABELS.comesWithin}{' '}
            <span className="num">{nearest.clear.toFixed(2)} m</span> {MESSAGES.ofAnObstacle}
          </span>
          {room?.free.map(
            (place, i) =>
              place && (
                <button
                  key={i}
                  type="button"
                  className="underline"
                  onClick={() => put(replaceStation(shot, i, place as Vec3, walk.targets[i] ?? null))}
                >
                  {LABELS.clearStation(i + 1)}
                </button>
              ),
          )}
        </div>
      )}
      <WalkStats frames={frames} index={index} most={most} />
    </div>
  );
}
