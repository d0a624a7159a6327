import type { ReactNode } from 'react';
import useSWR from 'swr';
import { pathSeconds } from '../../../../core/shots/stationTiming.js';
import { revealStations, type SectionRevealShot } from '../../../../core/shots/sectionReveal/sectionReveal.js';
import { subjectBounds } from '../../../../core/planning/planFrames.js';
import type { RevealReply } from '../../../../contract/clearance.js';
import { revealWarnings } from '../../../../core/shots/sectionReveal/revealWarnings.js';
import { capsIn } from '../../../../core/frame/sectionCap.js';
import { shortestSide } from '../../../../core/math/bounds.js';
import { CapFields } from '../../../forms/CapFields.js';
import { get } from '../../../state/api.js';
import { useParts } from '../../../state/queries.js';
import { useWorkspace } from '../../../app/workspace.js';
import { NumberField, Select, Checkbox } from '../../../ui/controls.js';
import { type FieldsProps, ViewField } from '../fieldsProps.js';
import { Stations } from '../Stations.js';
import { HELP, LABELS } from './words.js';

const WAYS = {
  above: { label: LABELS.above, normal: [0, 1, 0] as [number, number, number], axis: 1 },
  right: { label: LABELS.rightX, normal: [1, 0, 0] as [number, number, number], axis: 0 },
  front: { label: LABELS.frontZ, normal: [0, 0, 1] as [number, number, number], axis: 2 },
} as const;
type Way = keyof typeof WAYS;

const ALL = '-';
const KEEPS = '-';

/** Fields of a section reveal. */
export function SectionReveal({ shot, put }: FieldsProps<SectionRevealShot>): ReactNode {
  const { plan, revision, setId } = useWorkspace();
  const { file } = plan!;
  const { data: parts } = useParts(revision?.id);
  const { data: cuts } = useSWR<RevealReply, Error>(
    revision ? `/sets/${setId}/reveal?revision=${revision.id}&shot=${encodeURIComponent(shot.id)}&v=${plan!.version}` : null,
    get,
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  const said = cuts ? revealWarnings(cuts.areas, cuts.every, cuts.offsets) : [];
  const way = (Object.keys(WAYS) as Way[]).find((w) => WAYS[w].normal.every((c, i) => c === shot.normal[i]));
  const moves = shot.stations.map((s) => ({ seconds: s.seconds ?? 0, hold: s.hold }));
  const change = (i: number, values: Partial<SectionRevealShot['stations'][number]>): string | null =>
    put({ ...shot, stations: shot.stations.map((s, k) => (k === i ? { ...s, ...values } : s)) });
  const setWay = (next: Way): void => {
    const bounds = subjectBounds(file, revision!.bounds);
    const { normal, axis } = WAYS[next];
    put({ ...shot, normal: [...normal], stations: revealStations(bounds.min[axis], bounds.max[axis]) });
  };
  return (
    <>
      <ViewField view={shot.view} onView={(view) => put({ ...shot, view })} />
      <p className="num text-sm text-graphite">{pathSeconds(moves).toFixed(2)} s</p>
      <Select
        label={LABELS.cutAway}
        help={HELP.cutAway}
        value={way ?? ''}
        options={(Object.keys(WAYS) as Way[]).map((w) => ({ value: w, label: WAYS[w].label }))}
        onValue={(w) => setWay(w as Way)}
      />
      <Select
        label={LABELS.appliesTo}
        help={HELP.appliesTo}
        value={shot.part ?? ALL}
        options={[
          { value: ALL, label: LABELS.wholeSubject },
          ...(parts ?? [])
            .filter((p) => p.renderVisible)
            .slice(0, 400)
            .map((p) => ({ value: p.path, label: p.path })),
        ]}
        onValue={(part) => put({ ...shot, part: part === ALL ? undefined : part })}
      />
      {said.map((line) => (
        <p key={line} className="text-sm text-ochre" data-testid="reveal-remark">
          {line}
        </p>
      ))}
      <Checkbox label={LABELS.easeInOut} help={HELP.easeInOut} checked={shot.ease} onChecked={(ease) => put({ ...shot, ease })} />
      <CapFields
        caps={shot}
        size={shortestSide(subjectBounds(file, revision!.bounds))}
        put={(caps) => put({ ...shot, cap: undefined, hatch: undefined, ...capsIn(caps) })}
      />
      <Stations
        count={shot.stations.length}
        least={2}
        onAdd={() => {
          const last = shot.stations.at(-1)!;
          put({ ...shot, stations: [...shot.stations, { height: last.height, seconds: last.seconds ?? 2, hold: 0 }] });
        }}
        onRemove={(i) =>
          put({ ...shot, stations: shot.stations.filter((_, k) => k !== i).map((s, k) => (k === 0 ? { ...s, seconds: undefined } : s)) })
        }
      >
        {(i) => {
          const s = shot.stations[i]!;
          return (
            <div className="grid grid-cols-3 gap-x-2 gap-y-1">
              <NumberField
                label={LABELS.planePosition}
                help={HELP.planePosition}
                value={s.height}
                quantity="length"
                unit="m"
                decimals={4}
                onValue={(height) => change(i, { height })}
              />
              <NumberField
                label={LABELS.moveTime}
                help={HELP.moveTime}
                value={s.seconds ?? 0}
                quantity="time"
                unit="s"
                decimals={2}
                disabled={i === 0}
                onValue={(seconds) => change(i, { seconds })}
              />
              <NumberField
                label={LABELS.hold}
                help={HELP.hold}
                value={s.hold}
                quantity="time"
                unit="s"
                decimals={2}
                onValue={(hold) => change(i, { hold })}
              />
              <div className="col-span-3">
                <Select
                  label={LABELS.view}
                  help={HELP.view}
                  value={s.view ?? KEEPS}
                  options={[
                    { value: KEEPS, label: i === 0 ? LABELS.viewOfTheShot : LABELS.unchanged },
                    ...file.views.map((v) => ({ value: v.id, label: v.name })),
                  ]}
                  onValue={(v) => change(i, { view: v === KEEPS ? undefined : v })}
                />
              </div>
            </div>
          );
        }}
      </Stations>
    </>
  );
}
