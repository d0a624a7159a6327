/** Histogram and waveform of the graded render, and how much of it is clipped. */
import { type ReactNode, useEffect, useRef } from 'react';
import { LEVELS, type Scopes } from '../../../core/image/scopes.js';
import { Checkbox } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const HEIGHT = 64;
/** Channels in the order of the histogram: red, green, blue, luma. */
const LINES = ['#d64550', '#4f9d4f', '#4f7fd6', '#ffffff'] as const;

/** One channel as a line; the ends are left out of the scale, since what is clipped piles up there. */
function Line({ counts, colour, most }: { counts: Uint32Array; colour: string; most: number }): ReactNode {
  const points = [...counts].map((n, i) => `${i},${(HEIGHT - Math.min(1, Math.sqrt(n / most)) * (HEIGHT - 2)).toFixed(1)}`);
  return <polyline points={points.join(' ')} fill="none" stroke={colour} strokeWidth={1.2} vectorEffect="non-scaling-stroke" />;
}

function Waveform({ waveform: { columns, rows, counts } }: Pick<Scopes, 'waveform'>): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current!.getContext('2d')!;
    const image = context.createImageData(columns, rows);
    for (let c = 0; c < columns; c++) {
      let most = 1;
      for (let r = 0; r < rows; r++) most = Math.max(most, counts[r * columns + c]!);
      for (let r = 0; r < rows; r++) {
        const v = Math.sqrt(counts[r * columns + c]! / most) * 255;
        image.data.set([v, v, v, 255], (r * columns + c) * 4);
      }
    }
    context.putImageData(image, 0, 0);
  }, [counts]);
  return (
    <canvas
      ref={canvas}
      width={columns}
      height={rows}
      role="img"
      aria-label={LABELS.waveform}
      className="w-full bg-[#15202a]"
      style={{ height: HEIGHT }}
    />
  );
}

const percent = (share: number): string => (100 * share).toFixed(share > 0 && share < 0.001 ? 2 : 1);

interface Props {
  scopes: Scopes | null;
  /** Whether they are on their way. */
  pending: boolean;
  clipping: boolean;
  onClipping: (on: boolean) => void;
}

/** Histogram and waveform of the graded render. */
export function ScopesView({ scopes, pending, clipping, onClipping }: Props): ReactNode {
  const inner = scopes ? [...scopes.histogram].filter((_, i) => i % LEVELS !== 0 && i % LEVELS !== LEVELS - 1) : [];
  const most = inner.reduce((a, b) => Math.max(a, b), 1);
  return (
    <div className="flex flex-col gap-1.5">
      {scopes && (
        <svg
          viewBox={`0 0 ${LEVELS} ${HEIGHT}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={LABELS.histogram}
          className="w-full bg-[#15202a]"
          style={{ height: HEIGHT }}
        >
          {LINES.map((colour, c) => (
            <Line key={colour} counts={scopes.histogram.subarray(c * LEVELS, (c + 1) * LEVELS)} colour={colour} most={most} />
          ))}
        </svg>
      )}
      {pending && (
        <p role="status" className="text-sm text-graphite">
          {MESSAGES.readingLight}
        </p>
      )}
      {scopes && <Waveform waveform={scopes.waveform} />}
      {scopes && (
        <p className="num text-xs text-graphite" data-testid="clipped">
          {MESSAGES.clipped(percent(scopes.black), percent(scopes.white))}
        </p>
      )}
      <Checkbox label={LABELS.markClipping} help={HELP.markClipping} checked={clipping} onChecked={onClipping} />
    </div>
  );
}
