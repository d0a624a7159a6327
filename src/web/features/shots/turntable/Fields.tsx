import { type ReactNode } from 'react';
import { type TurnTarget, TURN_TARGETS } from '../../../../core/frame/frame.js';
import { subjectBounds } from '../../../../core/planning/planFrames.js';
import { effectiveSettings } from '../../../../core/plan/formatSheet.js';
import { rimSpeed, forwardFrameCount, type TurntableShot } from '../../../../core/shots/turntable/turntable.js';
import { frameTime, parseRate } from '../../../../core/units/rate.js';
import { useWorkspace } from '../../../app/workspace.js';
import { NumberField, Select, Checkbox } from '../../../ui/controls.js';
import { type FieldsProps, ViewField } from '../fieldsProps.js';

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
        <NumberField
          label="Frames"
          help="Frames of one turn. 72 are 5° a frame; the closing frame equals the first and is not made."
          value={frames}
          decimals={0}
          onValue={(v) => put({ ...rest, frames: v })}
        />
        <NumberField
          label="Length"
          help="Seconds at the set's rate; takes 3 s or 1/2 min."
          value={frameTime(frames, rate)}
          quantity="time"
          unit="s"
          onValue={(v) => put({ ...rest, seconds: v })}
        />
        <NumberField
          label="Total angle"
          help="Degrees from first to last; 360 and its multiples close without a doubled frame."
          value={shot.degrees}
          quantity="angle"
          unit="°"
          step={15}
          onValue={(degrees) => put({ ...shot, degrees })}
        />
        <NumberField
          label="Start"
          help="Angle of the first frame, in degrees."
          value={shot.start}
          quantity="angle"
          unit="°"
          step={5}
          onValue={(start) => put({ ...shot, start })}
        />
      </div>
      <Select
        label="Seen to turn"
        help="How the subject is seen to turn from above, whatever really turns."
        value={shot.direction}
        options={['counterclockwise', 'clockwise'].map((v) => ({ value: v, label: v }))}
        onValue={(v) => put({ ...shot, direction: v as TurntableShot['direction'] })}
      />
      <fieldset>
        <legend className="font-head text-xs font-medium text-graphite">Turns</legend>
        <div className="flex flex-wrap gap-x-3">
          {TURN_TARGETS.map((t) => (
            <Checkbox
              key={t}
              label={t}
              help="Everything ticked turns by the same angle about the pivot; ground and surroundings stay."
              checked={shot.turns.includes(t)}
              onChecked={(on) => toggle(t, on)}
            />
          ))}
        </div>
      </fieldset>
      <Select
        label="Pivot"
        help="What the turn goes round: the centre of the subject's bounds, frozen with the set, or the view's target."
        value={pivot}
        options={[
          { value: 'centre', label: 'centre of the subject' },
          { value: 'target', label: "the view's target" },
          ...(pivot === 'point' ? [{ value: 'point', label: (shot.pivot as number[]).join(', ') }] : []),
        ]}
        onValue={(v) => v !== 'point' && put({ ...shot, pivot: v as 'centre' })}
      />
      <Checkbox
        label="Gentle ends"
        help="Turns gently at its start and its end; else evenly, which loops without a jerk."
        checked={shot.ease}
        onChecked={(ease) => put({ ...shot, ease })}
      />
      {edge && (
        <p className={`num text-sm ${edge.pixels > edge.most && sheet.shutter === 0 ? 'text-ochre' : 'text-graphite'}`} data-testid="edge-step">
          The outer edge moves {edge.pixels.toFixed(1)} px a frame
          {edge.pixels > edge.most && sheet.shutter === 0 && `: above ${edge.most.toFixed(0)} its steps are seen; take more frames or motion blur`}.
        </p>
      )}
      <Checkbox
        label="There and back"
        help="Turns back along the same frames; 2N − 2 frames, and every frame stands once."
        checked={shot.thereAndBack}
        onChecked={(thereAndBack) => put({ ...shot, thereAndBack })}
      />
    </>
  );
}
