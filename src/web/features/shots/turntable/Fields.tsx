import type { ReactNode } from 'react';
import { type TurnTarget, TURN_TARGETS } from '../../../../core/frame/frame.js';
import { subjectBounds } from '../../../../core/planning/planFrames.js';
import { effectiveSettings } from '../../../../core/plan/formatSheet.js';
import { rimSpeed, forwardFrameCount, type TurntableShot } from '../../../../core/shots/turntable/turntable.js';
import { frameTime, parseRate } from '../../../../core/units/rate.js';
import { useWorkspace } from '../../../app/workspace.js';
import { NumberField, Select, Checkbox } from '../../../ui/controls.js';
import { type FieldsProps, ViewField } from '../fieldsProps.js';
import { HELP, LABELS, MESSAGES } from './words.js';

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
        <NumberField
          label={LABELS.totalAngle}
          help={HELP.totalAngle}
          value={shot.degrees}
          quantity="angle"
          unit="°"
          step={15}
          onValue={(degrees) => put({ ...shot, degrees })}
        />
        <NumberField
          label={LABELS.startAngle}
          help={HELP.startAngle}
          value={shot.start}
          quantity="angle"
          unit="°"
          step={5}
          onValue={(start) => put({ ...shot, start })}
        />
      </div>
      <Select
        label={LABELS.direction}
        help={HELP.direction}
        value={shot.direction}
        options={[LABELS.counterclockwise, LABELS.clockwise].map((v) => ({ value: v, label: v }))}
        onValue={(v) => put({ ...shot, direction: v as TurntableShot['direction'] })}
      />
      <fieldset>
        <legend className="font-head text-xs font-medium text-graphite">{LABELS.rotates}</legend>
        <div className="flex flex-wrap gap-x-3">
          {TURN_TARGETS.map((t) => (
            <Checkbox key={t} label={t} help={HELP.everythingTickedRotatesBy} checked={shot.turns.includes(t)} onChecked={(on) => toggle(t, on)} />
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
          ...(pivot === 'point' ? [{ value: 'point', label: (shot.pivot as number[]).join(', ') }] : []),
        ]}
        onValue={(v) => v !== 'point' && put({ ...shot, pivot: v as 'centre' })}
      />
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
