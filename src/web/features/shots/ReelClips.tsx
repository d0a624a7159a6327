/** The clips of a reel, and what they come to. */
import { type ReactNode, useMemo } from 'react';
import { ArrowDown, ArrowUp, Plus, Trash2 } from 'lucide-react';
import { decisionList, timelineOtio } from '../../../core/movie/lists.js';
import { plannedTake, reelPlan, reelSources, type ReelPlan } from '../../../core/movie/reel.js';
import type { Reel, ReelEvent } from '../../../core/plan/reel.js';
import { moveItem } from '../../../core/edit/editSet.js';
import { groupByShotOutput, type Frame } from '../../../core/frame/frame.js';
import { slugify } from '../../../core/plan/fileNames.js';
import type { SetFile } from '../../../core/plan/set.js';
import { kindOf, shotName } from '../../../core/shots/kinds.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { frameTime, parseRate } from '../../../core/units/rate.js';
import { timecode } from '../../../core/units/timecode.js';
import { Button, NumberField, Select, TextField } from '../../ui/controls.js';
import { saveText } from '../../ui/saveText.js';
import { toastProblem } from '../../state/toastProblem.js';
import { HELP, LABELS } from './fileWords.js';

/** The reel as it would be, or what is wrong with it. */
function planned(reel: Reel, file: SetFile, frames: Frame[]): ReelPlan | string {
  const runs = groupByShotOutput(frames);
  try {
    return reelPlan(
      reel,
      reelSources(file, (part) => plannedTake(file, runs, part).map((f) => f.number)),
      parseRate(file.sheet.rate),
    );
  } catch (e) {
    return (e as Error).message;
  }
}

/** What a choice has where nothing is chosen: no id and no letter. */
const AS_BATCH = '*';

/** Which renders of its shot a clip shows, where there is something to choose. */
function TakeFields({
  part,
  file,
  revisions,
  put,
}: {
  part: ReelEvent;
  file: SetFile;
  revisions: readonly string[];
  put: (values: Partial<ReelEvent>) => string | null;
}): ReactNode {
  const variants = file.materials?.variants ?? [];
  const asBatch = { value: AS_BATCH, label: LABELS.asTheBatch };
  // One that was deleted stays to be seen.
  const letters = [...new Set([...revisions, ...(part.revision === undefined ? [] : [part.revision])])];
  if (variants.length === 0 && letters.length < 2) return null;
  return (
    <div className="flex gap-3 pl-9 pt-1.5">
      {variants.length > 0 && (
        <div className="w-44">
          <Select
            label={LABELS.clipVariant}
            help={HELP.clipVariant}
            value={part.variant ?? AS_BATCH}
            options={[asBatch, ...variants.map((v) => ({ value: v.id, label: v.name }))]}
            onValue={(id) => put({ variant: id === AS_BATCH ? undefined : id })}
          />
        </div>
      )}
      {letters.length > 1 && (
        <div className="w-44">
          <Select
            label={LABELS.clipRevision}
            help={HELP.clipRevision}
            value={part.revision ?? AS_BATCH}
            options={[asBatch, ...letters.map((letter) => ({ value: letter, label: LABELS.revision(letter) }))]}
            onValue={(letter) => put({ revision: letter === AS_BATCH ? undefined : letter })}
          />
        </div>
      )}
    </div>
  );
}

function Part({
  part,
  index,
  file,
  revisions,
  note,
  put,
  out,
  carry,
}: {
  part: ReelEvent;
  index: number;
  file: SetFile;
  revisions: readonly string[];
  note: string | undefined;
  put: (values: Partial<ReelEvent>) => string | null;
  out: () => void;
  carry: (by: number) => void;
}): ReactNode {
  const shot = file.shots.find((s) => s.id === part.shot);
  const still = shot && !kindOf(shot).moving;
  const number = (text: string): number | undefined => (text.trim() === '' ? undefined : Number(text));
  return (
    <li className="border-b border-rule py-2">
      <div className="grid grid-cols-[24px_minmax(0,1fr)_64px_64px_72px_72px_72px] items-end gap-3">
        <span className="num pb-1 text-graphite">{index + 1}</span>
        <Select
          label={LABELS.shot(index + 1)}
          help={HELP.theShotThatThis}
          value={part.shot}
          options={file.shots.map((s) => ({ value: s.id, label: shotName(s) }))}
          onValue={(id) => put({ shot: id, from: undefined, to: undefined })}
        />
        <TextField
          label={LABELS.firstFrame}
          help={HELP.firstFrame}
          mono
          value={part.from?.toString() ?? ''}
          onValue={(t) => put({ from: number(t) })}
        />
        <TextField label={LABELS.lastFrame} help={HELP.lastFrame} mono value={part.to?.toString() ?? ''} onValue={(t) => put({ to: number(t) })} />
        {still ? (
          <NumberField
            label={LABELS.duration}
            help={HELP.duration}
            value={part.seconds}
            unit="s"
            decimals={2}
            step={0.5}
            onValue={(seconds) => put({ seconds })}
          />
        ) : (
          <NumberField
            label={LABELS.speed}
            help={HELP.speed}
            value={part.speed}
            unit="×"
            decimals={2}
            step={0.25}
            onValue={(speed) => put({ speed })}
          />
        )}
        <NumberField
          label={LABELS.fadeIn}
          help={HELP.fadeIn}
          value={part.fade}
          decimals={0}
          disabled={index === 0}
          onValue={(fade) => put({ fade: Math.round(fade) })}
        />
        <span className="flex gap-1.5 pb-1">
          <button type="button" aria-label={LABELS.moveClipEarlier(index + 1)} onClick={() => carry(-1)}>
            <ArrowUp size={14} aria-hidden />
          </button>
          <button type="button" aria-label={LABELS.moveClipLater(index + 1)} onClick={() => carry(1)}>
            <ArrowDown size={14} aria-hidden />
          </button>
          <button type="button" aria-label={LABELS.deleteClip(index + 1)} onClick={out}>
            <Trash2 size={14} aria-hidden />
          </button>
        </span>
      </div>
      <TakeFields part={part} file={file} revisions={revisions} put={put} />
      {note && <p className="pl-9 text-sm text-ochre">{note}</p>}
    </li>
  );
}

/** What a reel comes to, or what is wrong with it, and its timeline for other programs. */
function ReelLength({ reel, file, frames, whole }: { reel: Reel; file: SetFile; frames: Frame[]; whole: ReelPlan | string }): ReactNode {
  if (typeof whole === 'string')
    return (
      <p role="alert" className="text-ochre">
        {whole}
      </p>
    );
  const rate = parseRate(file.sheet.rate);
  const count = whole.frames.length;
  const exported = [
    { label: LABELS.exportOpentimelineio, ending: 'otio', make: timelineOtio },
    { label: LABELS.exportEditList, ending: 'edl', make: decisionList },
  ];
  return (
    <>
      <p className="num" data-testid="reel-length">
        {pluralize(count, 'frame')} · {timecode(count, rate)} · {Number(frameTime(count, rate).toFixed(2))} s
      </p>
      <span className="ml-auto flex gap-4">
        {exported.map(({ label, ending, make }) => (
          <button
            key={ending}
            type="button"
            className="underline"
            onClick={() => saveText(`${slugify(reel.name)}.${ending}`, make(file, frames, reel))}
          >
            {label}
          </button>
        ))}
      </span>
    </>
  );
}

/** The clips of a reel in their order. @param revisions letters of the project's revisions. */
export function ReelClips({
  reel,
  file,
  frames,
  revisions,
  put,
}: {
  reel: Reel;
  file: SetFile;
  frames: Frame[];
  revisions: readonly string[];
  put: (next: Reel) => string | null;
}): ReactNode {
  const whole = useMemo(() => planned(reel, file, frames), [reel, file, frames]);
  return (
    <>
      <ol className="mt-3">
        {reel.parts.map((part, i) => (
          <Part
            key={`${reel.id} ${i} ${part.shot}`}
            part={part}
            index={i}
            file={file}
            revisions={revisions}
            note={typeof whole === 'string' ? undefined : whole.parts[i]?.note}
            put={(values) => put({ ...reel, parts: reel.parts.map((p, k) => (k === i ? { ...p, ...values } : p)) })}
            out={() => toastProblem(put({ ...reel, parts: reel.parts.filter((_, k) => k !== i) }))}
            carry={(by) => toastProblem(put({ ...reel, parts: moveItem(reel.parts, i, by) }))}
          />
        ))}
      </ol>
      <div className="mt-3 flex items-center gap-4">
        <Button onClick={() => toastProblem(put({ ...reel, parts: [...reel.parts, { shot: file.shots[0]!.id, speed: 1, seconds: 2, fade: 0 }] }))}>
          <Plus size={14} aria-hidden /> {LABELS.addClip}
        </Button>
        <ReelLength reel={reel} file={file} frames={frames} whole={whole} />
      </div>
    </>
  );
}
