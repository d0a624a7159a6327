import type { ReactNode } from 'react';
import { centreOf, transformBounds, type Vec3 } from '../../../../core/math/bounds.js';
import { transformMatrix } from '../../../../core/model/modelTransform.js';
import { partBounds } from '../../../state/partBox.js';
import { PointFields } from '../../../forms/PointFields.js';
import { useParts } from '../../../state/queries.js';
import { type TurnTarget, TURN_TARGETS } from '../../../../core/frame/frame.js';
import { subjectBounds } from '../../../../core/planning/planFrames.js';
import { effectiveSettings } from '../../../../core/plan/formatSheet.js';
import { rimSpeed, forwardFrameCount, pivotOf, type TurntableShot } from '../../../../core/shots/turntable/turntable.js';
import { frameTime, parseRate } from '../../../../core/units/rate.js';
import { useWorkspace } from '../../../app/workspace.js';
import { NumberField, Select, Checkbox } from '../../../ui/controls.js';
import { type FieldsProps, ViewField } from '../fieldsProps.js';
import { type FieldSpec, FormFields } from '../../../forms/FormFields.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** No path is written like this. */
const NO_PART = '/';

/** The point that it turns about, by numbers or in the middle of a part. */
function PivotPoint({ point, onPoint }: { point: Vec3; onPoint: (point: Vec3) => string | null }): ReactNode {
  const { plan, revision } = useWorkspace();
  const { data: parts = [] } = useParts(revision?.id);
  const { transform } = plan!.file;
  const middleOf = (path: string): void => {
    const box = partBounds(parts, new Set([path]));
    if (!box || !revision) return;
    const placed = transform ? transformBounds(box, transformMatrix(transform, revision.bounds)) : box;
    onPoint(centreOf(placed).map((v) => Number(v.toFixed(4))) as Vec3);
  };
  return (
    <>
      <PointFields label={LABELS.pivot} step={0.01} help={HELP.pivotAxis} point={point} onPoint={onPoint} />
      <Select
        label={LABELS.pivotAtPart}
        help={HELP.pivotAtPart}
        value={NO_PART}
        options={[
          { value: NO_PART, label: LABELS.choosePart },
          ...parts.filter((p) => p.lines === undefined).map((p) => ({ value: p.path, label: p.path })),
        ]}
        onValue={middleOf}
      />
    </>
  );
}

const ANGLES: readonly FieldSpec<TurntableShot>[] = [
  { kind: 'number', key: 'degrees', label: LABELS.totalAngle, help: HELP.totalAngle, quantity: 'angle', unit: '°', step: 15 },
  { kind: 'number', key: 'start', label: LABELS.startAngle, help: HELP.startAngle, quantity: 'angle', unit: '°', step: 5 },
];

/** Fields of a turntable. */
export function Turntable({ shot, put }: FieldsProps<TurntableShot>): ReactNode {
  const { plan, revision } = useWorkspace();
  const { file } = plan!;
  const sheet = effectiveSettings(file.sheet, shot);
  const rate = parseRate(sheet.rate);
  const bounds = revision && subjectBounds(file, revision.bounds);
  const edge = bounds && rimSpeed(shot, { views: file.views, bounds, rate }, sheet.size, sheet.pixelAspect);
  const frames = forwardFrameCount(shot, rate);
  const pivot = typeof shot.pivot === 'string' ? shot.pivot : 'point';
  const { seconds: _seconds, frames: _frames, ...rest } = shot;
  const { axis, ...upright } = shot;
  const rounded = (p: readonly number[]): Vec3 => p.map((v) => Number(v.toFixed(4))) as Vec3;
  // Where it turns now, to begin with.
  const now = rounded(bounds ? pivotOf(shot, { views: file.views, bounds }) : [0, 0, 0]);
  // Begins upright, as tall as the subject, so that nothing jumps.
  const chooseAxis = (kind: string): void => {
    const height = bounds ? bounds.max[1] - bounds.min[1] : 1;
    const to = rounded([now[0], now[1] + (height || 1), now[2]]);
    put(kind === 'upright' ? upright : { ...shot, axis: { from: now, to }, turns: ['subject'] });
  };
  const toggle = (what: TurnTarget, on: boolean): void => {
    put({ ...shot, turns: TURN_TARGETS.filter((t) => (t === what ? on : shot.turns.includes(t))) });
  };
  return (
    <>
      <ViewField view={shot.view} onView={(view) => put({ ...shot, view })} />
      <div className="grid grid-cols-2 gap-x-4 gap-y-2">
        <NumberField label={LABELS.frames} help={HELP.frames} value={frames} decimals={0} onValue={(v) => put({ ...rest, frames: v })} />
        <NumberField
          label={LABELS.length}
          help={HELP.length}
          value={frameTime(frames, rate)}
          quantity="time"
          unit="s"
          onValue={(v) => put({ ...rest, seconds: v })}
        />
        <FormFields fields={ANGLES} values={shot} put={(values) => put({ ...shot, ...values })} />
      </div>
      <Select
        label={LABELS.direction}
        help={HELP.direction}
        value={shot.direction}
        options={[LABELS.counterclockwise, LABELS.clockwise].map((v) => ({ value: v, label: v }))}
        onValue={(v) => put({ ...shot, direction: v as TurntableShot['direction'] })}
      />
      <Select
        label={LABELS.axis}
        help={HELP.axis}
        value={axis ? 'points' : 'upright'}
        options={[
          { value: 'upright', label: LABELS.upright },
          { value: 'points', label: LABELS.throughTwoPoints },
        ]}
        onValue={chooseAxis}
      />
      {axis ? (
        <>
          <PointFields
            label={LABELS.axisFrom}
            help={HELP.axisFrom}
            point={axis.from as Vec3}
            onPoint={(from) => put({ ...shot, axis: { ...axis, from } })}
          />
          <PointFields label={LABELS.axisTo} help={HELP.axisTo} point={axis.to as Vec3} onPoint={(to) => put({ ...shot, axis: { ...axis, to } })} />
        </>
      ) : (
        <>
          <fieldset>
            <legend className="font-head text-xs font-medium text-graphite">{LABELS.rotates}</legend>
            <div className="flex flex-wrap gap-x-3">
              {TURN_TARGETS.map((t) => (
                <Checkbox
                  key={t}
                  label={t}
                  help={HELP.everythingTickedRotatesBy}
                  checked={shot.turns.includes(t)}
                  onChecked={(on) => toggle(t, on)}
                />
              ))}
            </div>
          </fieldset>
          <Select
            label={LABELS.pivot}
            help={HELP.pivot}
            value={pivot}
            options={[
              { value: 'centre', label: LABELS.centreOfTheSubject },
              { value: 'target', label: LABELS.targetOfTheView },
              { value: 'point', label: LABELS.ownPoint },
            ]}
            onValue={(v) => put({ ...shot, pivot: v === 'point' ? now : (v as 'centre' | 'target') })}
          />
          {pivot === 'point' && <PivotPoint point={shot.pivot as Vec3} onPoint={(point) => put({ ...shot, pivot: point })} />}
        </>
      )}
      <Checkbox label={LABELS.easeInOut} help={HELP.easeInOut} checked={shot.ease} onChecked={(ease) => put({ ...shot, ease })} />
      {edge && (
        <p className={`num text-sm ${edge.pixels > edge.most && sheet.shutter === 0 ? 'text-ochre' : 'text-graphite'}`} data-testid="edge-step">
          {MESSAGES.theRimMovesPx(
            edge.pixels.toFixed(1),
            (edge.pixels > edge.most && sheet.shutter === 0 && MESSAGES.aboveStepsBecomeVisible(edge.most.toFixed(0))) || '',
          )}
        </p>
      )}
      <Checkbox
        label={LABELS.thereAndBack}
        help={HELP.thereAndBack}
        checked={shot.thereAndBack}
        onChecked={(thereAndBack) => put({ ...shot, thereAndBack })}
      />
    </>
  );
}
