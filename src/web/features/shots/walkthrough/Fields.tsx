import { type ReactNode, useRef } from 'react';
import type { Vec3 } from '../../../../core/math/bounds.js';
import { pathSeconds } from '../../../../core/shots/stationTiming.js';
import { segmentFrames, walkOf, type WalkthroughShot } from '../../../../core/shots/walkthrough/walkthrough.js';
import { pathCsv, readPath } from '../../../../core/shots/walkthrough/pathCsv.js';
import { readGltfPath } from '../gltfPath.js';
import { saveText } from '../../../ui/saveText.js';
import { useWorkspace } from '../../../app/workspace.js';
import { NumberField, Select, Checkbox } from '../../../ui/controls.js';
import type { FieldsProps } from '../fieldsProps.js';
import { effectiveSettings } from '../../../../core/plan/formatSheet.js';
import { parseRate } from '../../../../core/units/rate.js';
import { useRenderSelection } from '../renderSelection.js';
import { Stations } from '../Stations.js';
import { HELP, LABELS, MESSAGES } from './words.js';
import { toast } from '../../../state/toast.js';

type Station = WalkthroughShot['stations'][number];

const BY_ITSELF = '-';

/** Fields of a walkthrough. */
export function Walkthrough({ shot, put }: FieldsProps<WalkthroughShot>): ReactNode {
  const { plan } = useWorkspace();
  const { views } = plan!.file;
  const walk = walkOf(shot, views);
  const sheet = effectiveSettings(plan!.file.sheet, shot);
  const segments = segmentFrames(shot, views, parseRate(sheet.rate));
  const select = useRenderSelection();
  /** Frames of the segment that leads to a station, as a selection; null where it has none. */
  const rangeTo = (i: number): string | null => {
    const range = segments[i === 0 ? segments.length - 1 : i - 1];
    return range
      ? range[0] === range[1]
        ? String(range[0] + sheet.firstNumber)
        : `${range[0] + sheet.firstNumber}-${range[1] + sheet.firstNumber}`
      : null;
  };
  const change = (i: number, values: Partial<Station>): string | null =>
    put({ ...shot, stations: shot.stations.map((s, k) => (k === i ? { ...s, ...values } : s)) });
  const add = (): void => {
    const n = walk.eyes.length;
    const [a, b] = [walk.eyes[n - 2]!, walk.eyes[n - 1]!];
    const eye = b.map((v, k) => Math.round((v + (v - a[k]!) * 0.5) * 1000) / 1000) as Vec3;
    const target = walk.targets[n - 1];
    put({ ...shot, stations: [...shot.stations, { eye, hold: 0, ...(shot.look === 'stations' && target && { target }) }] });
  };
  const setLook = (look: WalkthroughShot['look']): void => {
    const fallback = plan!.file.views[0]!.target as Vec3;
    put({
      ...shot,
      look,
      ...(look === 'target' && { target: shot.target ?? fallback }),
      ...(look === 'stations' && { stations: shot.stations.map((s) => (s.view || s.target ? s : { ...s, target: shot.target ?? fallback })) }),
    });
  };
  const input = useRef<HTMLInputElement>(null);
  const bring = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    try {
      const rows = /\.(glb|gltf)$/i.test(file.name) ? await readGltfPath(await file.arrayBuffer()) : readPath(await file.text());
      const target = shot.target ?? (views[0]!.target as Vec3);
      const problem = put({ ...shot, stations: rows.map((r) => ({ hold: 0, ...r, ...(shot.look === 'stations' && { target }) })) });
      if (problem) throw new Error(problem);
    } catch (e) {
      toast.error(MESSAGES.wasNotImported(file.name, (e as Error).message));
    }
  };
  return (
    <>
      <p className="flex gap-3 text-sm">
        <button type="button" className="text-cobalt underline" title={HELP.csvWithXY} onClick={() => input.current?.click()}>
          {LABELS.importPath}
        </button>
        <button
          type="button"
          className="text-cobalt underline"
          onClick={() =>
            saveText(
              `${shot.name ?? shot.id} path.csv`,
              pathCsv(walk.eyes.map((eye, i) => ({ eye, seconds: shot.stations[i]!.seconds, hold: shot.stations[i]!.hold }))),
            )
          }
        >
          {LABELS.exportCsv}
        </button>
        <input
          ref={input}
          type="file"
          accept=".csv,.tsv,.txt,.glb,.gltf"
          className="hidden"
          aria-label={LABELS.pathAsCsvOr}
          onChange={(e) => {
            void bring(e.target.files?.[0]);
            e.target.value = '';
          }}
        />
      </p>
      <p className="num text-sm text-graphite">
        {walk.legs.reduce((sum, l) => sum + l.length, 0).toFixed(2)} m · {pathSeconds(walk.stations).toFixed(2)} s
      </p>
      <Select
        label={LABELS.look}
        help={HELP.look}
        value={shot.look}
        options={[
          { value: 'ahead', label: LABELS.ahead },
          { value: 'target', label: LABELS.atAPoint },
          { value: 'stations', label: LABELS.byStation },
        ]}
        onValue={(look) => setLook(look as WalkthroughShot['look'])}
      />
      {shot.look === 'target' && shot.target && (
        <div className="grid grid-cols-3 gap-3">
          {(['x', 'y', 'z'] as const).map((axis, k) => (
            <NumberField
              key={axis}
              label={LABELS.point(axis)}
              help={HELP.metresTheCameraLooks}
              value={shot.target![k]!}
              quantity="length"
              unit="m"
              onValue={(v) => put({ ...shot, target: shot.target!.map((c, i) => (i === k ? v : c)) as Vec3 })}
            />
          ))}
        </div>
      )}
      <div className="grid grid-cols-2 gap-x-4 gap-y-2">
        <NumberField
          label={LABELS.walkingSpeed}
          help={HELP.walkingSpeed}
          value={shot.pace}
          unit="m/s"
          step={0.1}
          decimals={2}
          onValue={(pace) => put({ ...shot, pace })}
        />
        <NumberField
          label={LABELS.focalLength}
          help={HELP.focalLength}
          value={shot.focalLength}
          quantity="focal"
          unit="mm"
          decimals={1}
          onValue={(focalLength) => put({ ...shot, focalLength })}
        />
      </div>
      <div className="flex flex-wrap gap-x-3">
        <Checkbox label={LABELS.roundTrip} help={HELP.roundTrip} checked={shot.closed} onChecked={(closed) => put({ ...shot, closed })} />
        <Checkbox label={LABELS.easeInOut} help={HELP.easeInOut} checked={shot.ease} onChecked={(ease) => put({ ...shot, ease })} />
        <Checkbox
          label={LABELS.keepVerticalsStraight}
          help={HELP.keepVerticalsStraight}
          checked={shot.keepVerticals}
          onChecked={(keepVerticals) => put({ ...shot, keepVerticals })}
        />
      </div>
      <Stations
        count={shot.stations.length}
        least={2}
        onAdd={add}
        onRemove={(i) =>
          put({
            ...shot,
            stations: shot.stations
              .filter((_, k) => k !== i)
              .map((s, k) => (k === 0 && !shot.closed ? { ...s, seconds: undefined, out: undefined } : s)),
          })
        }
      >
        {(i) => {
          const station = shot.stations[i]!;
          const eye = walk.eyes[i]!;
          return (
            <div className="grid grid-cols-3 gap-x-2 gap-y-1">
              <div className="col-span-3">
                <Select
                  label={LABELS.position}
                  help={HELP.position}
                  value={station.view ?? BY_ITSELF}
                  options={[{ value: BY_ITSELF, label: LABELS.free }, ...views.map((v) => ({ value: v.id, label: LABELS.at(v.name) }))]}
                  onValue={(v) => change(i, v === BY_ITSELF ? { view: undefined, eye } : { view: v, eye: undefined, target: undefined })}
                />
              </div>
              <NumberField
                label={LABELS.eyeHeight}
                help={HELP.eyeHeight}
                value={eye[1]}
                quantity="length"
                unit="m"
                disabled={station.view !== undefined}
                onValue={(y) => change(i, { eye: [eye[0], y, eye[2]] })}
              />
              <NumberField
                label={LABELS.segmentTime}
                help={HELP.segmentTime}
                value={i === 0 && !shot.closed ? 0 : walk.stations[i === 0 ? walk.stations.length - 1 : i]!.seconds}
                quantity="time"
                unit="s"
                decimals={2}
                disabled={i === 0 && !shot.closed}
                onValue={(seconds) => change(i, { seconds })}
              />
              <NumberField
                label={LABELS.hold}
                help={HELP.hold}
                value={station.hold}
                quantity="time"
                unit="s"
                decimals={2}
                onValue={(hold) => change(i, { hold })}
              />
              {(i > 0 || shot.closed) && (
                <div className="col-span-3">
                  <Checkbox
                    label={LABELS.skipSegment}
                    help={HELP.skipSegment}
                    checked={station.out === true}
                    onChecked={(out) => change(i, { out: out || undefined })}
                  />
                  {rangeTo(i) && (
                    <button
                      type="button"
                      className="text-sm text-cobalt underline"
                      title={HELP.renderSegment}
                      onClick={() => select(shot.id, rangeTo(i)!)}
                    >
                      {LABELS.renderSegment}
                    </button>
                  )}
                </div>
              )}
            </div>
          );
        }}
      </Stations>
    </>
  );
}
