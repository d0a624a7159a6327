/** What stands in a pixel and what lights it, with the ways to where each of them is changed. */
import { Fragment, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { PixelContent } from '../../core/image/pixelContent.js';
import { passOf, type PassId } from '../../core/image/passes.js';
import { LABELS, MESSAGES } from './words.js';

/** A light, and its share of the light of a pixel. */
export interface LitBy {
  name: string;
  /** Id of a light of the set. */
  id?: string | undefined;
  /** 0..1 of the light that comes from there. */
  share: number;
}

/** What stands in a pixel. */
export interface PixelInspectorProps {
  picked: PixelContent;
  /** Column and row of the pixel, from the top left. */
  at?: readonly [number, number] | undefined;
  /** Address of the set's steps. */
  base: string;
  view?: { id: string; name: string } | undefined;
  /** The most first; undefined while that is being found out. */
  lights: readonly LitBy[] | undefined;
}

/** Lights that are named: so many, and those that make a difference. */
const MAX_NAMED = 4;
const MIN_SHARE = 0.005;
const LINK = 'text-cobalt underline';
/** Never a zero with a sign. */
const number = (v: number): string => (Math.abs(v) < 0.0005 ? 0 : v).toFixed(3);
const triple = (v: readonly number[] | null): string => (v ? v.map(number).join(' ') : '–');

function Rows({ rows }: { rows: readonly [string, ReactNode, string?][] }): ReactNode {
  return (
    <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 gap-y-1">
      {rows.map(([label, value, look = 'num']) => (
        <Fragment key={label}>
          <dt className="text-graphite">{label}</dt>
          <dd className={`break-words ${look}`}>{value}</dd>
        </Fragment>
      ))}
    </dl>
  );
}

function Lights({ lights, base }: Pick<PixelInspectorProps, 'lights' | 'base'>): ReactNode {
  if (!lights) return <span className="text-graphite">{MESSAGES.findingLights}</span>;
  if (lights.length === 0) return LABELS.none;
  return lights
    .filter((l) => l.share >= MIN_SHARE)
    .slice(0, MAX_NAMED)
    .map(({ name, share }) => (
      <span key={name} className="flex justify-between gap-3">
        <Link to={`${base}/stage`} className={LINK}>
          {name}
        </Link>
        <span className="num">{Math.round(100 * share)} %</span>
      </span>
    ));
}

/** What stands in a pixel, in rows, with the ways to where each is changed. */
export function PixelInspector({ picked, at, base, view, lights }: PixelInspectorProps): ReactNode {
  const { part, material } = picked;
  const passes = (Object.entries(picked.passes) as [PassId, number[]][]).map(([id, v]): [string, string] => [
    passOf(id).label,
    v.map(number).join(' '),
  ]);
  return (
    <div className="flex flex-col gap-2 border-t border-rule pt-3 text-sm" data-testid="picked">
      <Rows
        rows={[
          ...(at ? [[LABELS.pixel, at.join(', ')] as [string, ReactNode]] : []),
          [
            LABELS.part,
            part ? (
              <Link className={LINK} to={`${base}/model?part=${encodeURIComponent(part.split('/').at(-1)!)}`}>
                {part}
              </Link>
            ) : (
              LABELS.none
            ),
            '',
          ],
          [
            LABELS.material,
            part && material ? (
              <Link className={LINK} to={`${base}/model?list=schedule`}>
                {material}
              </Link>
            ) : (
              (material ?? LABELS.none)
            ),
            '',
          ],
          ...(view
            ? [
                [
                  LABELS.view,
                  <Link key="view" className={LINK} to={`${base}/views?view=${encodeURIComponent(view.id)}`}>
                    {view.name}
                  </Link>,
                  '',
                ] as [string, ReactNode, string],
              ]
            : []),
          [LABELS.litBy, <Lights key="lights" lights={lights} base={base} />, ''],
          [LABELS.distance, picked.distance === null ? '–' : `${number(picked.distance)} m`],
          [LABELS.position, triple(picked.place)],
          [LABELS.normal, triple(picked.normal)],
          [LABELS.radiance, triple(picked.colour)],
        ]}
      />
      <details>
        <summary className="cursor-pointer text-graphite">{LABELS.passes}</summary>
        <Rows rows={passes} />
      </details>
    </div>
  );
}
