/** Hours of sun on the ground of a day, in false colour with a legend. */
import { type ReactNode, useEffect, useRef } from 'react';
import useSWR from 'swr';
import type { SunHoursReply } from '../../../contract/daylight.js';
import type { Bounds } from '../../../core/math/bounds.js';
import { get } from '../../state/api.js';
import { HELP, LABELS, MESSAGES } from './daylightWords.js';

/** Steps of the legend: from hours on, its colour. One hue from dark to light, so that it reads without colour too. */
const STEPS = [
  { from: 0, colour: '#2b3440' },
  { from: 1, colour: '#45566b' },
  { from: 2, colour: '#6b7f8f' },
  { from: 4, colour: '#a39c7d' },
  { from: 6, colour: '#c9b26f' },
  { from: 8, colour: '#e6cf7f' },
  { from: 10, colour: '#f7ecb4' },
] as const;
const COVERED = '#ffffff';

const colourOf = (hours: number | null): string =>
  hours === null ? COVERED : STEPS.reduce<string>((colour, s) => (hours >= s.from - 1e-9 ? s.colour : colour), STEPS[0].colour);

function paint(canvas: HTMLCanvasElement, { grid, hours }: SunHoursReply): void {
  canvas.width = grid.cells;
  canvas.height = grid.cells;
  const context = canvas.getContext('2d')!;
  hours.forEach((h, i) => {
    context.fillStyle = colourOf(h);
    context.fillRect(i % grid.cells, Math.floor(i / grid.cells), 1, 1);
  });
}

/** The day that is looked at. */
export interface SunHoursProps {
  setId: number;
  revision: number;
  date: string;
  /** Counts saves, so that what is shown is of the set as it is. */
  version: string;
  bounds: Bounds;
}

/** How long the sun reaches each square of the ground, as a plan. */
export function SunHours({ setId, revision, date, version, bounds }: SunHoursProps): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  const address = `/sets/${setId}/sun-hours?revision=${revision}&date=${date}&cells=64`;
  const { data, error } = useSWR<SunHoursReply, Error>(`${address}&v=${version}`, get, { keepPreviousData: true });
  useEffect(() => {
    if (data && canvas.current) paint(canvas.current, data);
  }, [data]);
  const side = data?.grid.side ?? 1;
  const share = (v: number, origin: number): string => `${(100 * (v - origin)) / side}%`;
  return (
    <figure className="flex min-w-0 gap-3" aria-label={LABELS.sunHours}>
      <div className="relative size-[206px] shrink-0 border border-ink bg-mount">
        <canvas
          ref={canvas}
          className="size-full [image-rendering:pixelated]"
          role="img"
          aria-label={LABELS.groundSunHours(date)}
          data-testid="sun-hours"
        />
        {data && (
          <div
            className="absolute border border-chalk outline outline-1 outline-ink"
            title={LABELS.boundsOfTheSubject}
            style={{
              left: share(bounds.min[0], data.grid.x),
              top: share(bounds.min[2], data.grid.z),
              width: share(bounds.max[0], bounds.min[0]),
              height: share(bounds.max[2], bounds.min[2]),
            }}
          />
        )}
      </div>
      <figcaption className="flex min-w-0 flex-col text-xs">
        <span className="font-head font-medium text-graphite">{LABELS.sunHours}</span>
        {error && <span className="text-ochre">{error.message}</span>}
        {STEPS.map((s, i) => (
          <span key={s.from} className="flex items-center gap-2">
            <span className="h-3 w-5 border border-graphite" style={{ background: s.colour }} />
            <span className="num">{STEPS[i + 1] ? `${s.from}–${STEPS[i + 1]!.from} h` : `≥ ${s.from} h`}</span>
          </span>
        ))}
        <span className="flex items-center gap-2">
          <span className="h-3 w-5 border border-graphite" style={{ background: COVERED }} />
          {LABELS.covered}
        </span>
        {data && (
          <span className="mt-1" data-testid="sun-share" title={HELP.ofTheGroundThat}>
            {MESSAGES.twoHours} <span className="num">{Math.round(data.share * 100)} %</span>
            {date.endsWith('-03-21') && <b className={data.passes ? 'text-sap' : 'text-ochre'}>{data.passes ? ' enough' : LABELS.tooLittle}</b>}
          </span>
        )}
        <a className="text-cobalt underline" href={`/api${address}&format=csv`} download>
          {LABELS.exportCsv}
        </a>
      </figcaption>
    </figure>
  );
}
