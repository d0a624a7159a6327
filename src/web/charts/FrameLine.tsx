import type { ReactNode } from 'react';
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';

/** A value over the frames of a shot, and how it is drawn. */
export interface FrameLineProps {
  /** Number of each frame and its value; null is a gap. `other` is drawn dashed beneath. */
  data: { frame: number; value: number | null; other?: number | null }[];
  /** Pixels. */
  height: number;
  /** A dashed line across, which is in the picture whatever the values are. */
  limit?: number;
  /** Frame that is marked. */
  mark?: number;
  /** Lines across at the ticks. */
  grid?: boolean;
  /** Digits behind the point at the ticks; as they come where absent. */
  decimals?: number;
  /** Ticks of the value. */
  ticks?: number;
  /** From the smallest to the largest value, and not from 0. */
  fit?: boolean;
}

const tick = { fontSize: 12, fontFamily: 'Spline Sans Mono', fill: 'var(--color-graphite)' };

/** The chart of it. */
export default function FrameLine({ data, height, limit, mark, grid = false, decimals, ticks, fit = false }: FrameLineProps): ReactNode {
  return (
    <ResponsiveContainer width="100%" height={height}>
      <LineChart data={data} margin={{ left: -26, right: 12, top: 6, bottom: 0 }}>
        {grid && <CartesianGrid stroke="var(--color-rule)" vertical={false} />}
        <XAxis dataKey="frame" tick={tick} tickLine={false} minTickGap={30} height={18} />
        <YAxis
          tick={tick}
          tickLine={false}
          axisLine={false}
          {...(limit !== undefined && { domain: [0, (most: number) => Math.max(most, limit) * 1.15] })}
          {...(fit && { domain: ['auto', 'auto'] as const })}
          {...(ticks !== undefined && { tickCount: ticks })}
          {...(decimals !== undefined && { tickFormatter: (v: number) => v.toFixed(decimals) })}
        />
        {limit !== undefined && <ReferenceLine y={limit} stroke="var(--color-ochre)" strokeDasharray="4 3" />}
        {mark !== undefined && <ReferenceLine x={mark} stroke="var(--color-madder)" />}
        {data.some((d) => typeof d.other === 'number') && (
          <Line
            dataKey="other"
            stroke="var(--color-graphite)"
            strokeDasharray="3 3"
            dot={false}
            strokeWidth={1}
            isAnimationActive={false}
            connectNulls
          />
        )}
        <Line dataKey="value" stroke="var(--color-ink)" dot={false} strokeWidth={1.5} isAnimationActive={false} connectNulls />
      </LineChart>
    </ResponsiveContainer>
  );
}
