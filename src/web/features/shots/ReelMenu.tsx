/** Reels: shots joined to one movie, in order, trimmed, faded and at their pace. */
import { fieldProblem } from '../../../core/base/issues.js';
import { type ReactNode, useMemo, useRef, useState } from 'react';
import { ArrowDown, ArrowUp, Plus, Trash2 } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { decisionList, readCut, timelineOtio } from '../../../core/movie/lists.js';
import { reelSources, reelPlan } from '../../../core/movie/reel.js';
import { type Reel, type ReelEvent, reelSchema } from '../../../core/plan/reel.js';
import { freeId, freeName, moveItem } from '../../../core/edit/editSet.js';
import { groupByShotOutput, type Frame } from '../../../core/frame/frame.js';
import { slugify } from '../../../core/plan/fileNames.js';
import type { SetFile } from '../../../core/plan/set.js';
import { kindOf, shotName } from '../../../core/shots/kinds.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { frameTime, parseRate } from '../../../core/units/rate.js';
import { timecode } from '../../../core/units/timecode.js';
import { useWorkspace } from '../../app/workspace.js';
import { Button, NumberField, Select, TextField } from '../../ui/controls.js';
import { saveText } from '../../ui/saveText.js';
import { toastProblem } from '../../state/toastProblem.js';
import { toast } from '../../state/toast.js';
import { HELP, LABELS, MESSAGES } from './fileWords.js';
import { FileInput } from '../../ui/FileInput.js';

/** The reel as it would be, or what is wrong with it. */
function planned(reel: Reel, file: SetFile, frames: Frame[]): ReturnType<typeof reelPlan> | string {
  const runs = groupByShotOutput(frames);
  try {
    return reelPlan(
      reel,
      reelSources(file, (id) => (runs.get(id) ?? []).map((f) => f.number)),
      parseRate(file.sheet.rate),
    );
  } catch (e) {
    return (e as Error).message;
  }
}

function Part({
  part,
  index,
  file,
  note,
  put,
  out,
  carry,
}: {
  part: ReelEvent;
  index: number;
  file: SetFile;
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
      {note && <p className="pl-9 text-sm text-ochre">{note}</p>}
    </li>
  );
}

/** The set's reels, and a new one. */
export function ReelMenu({ className }: { className: string }): ReactNode {
  const { plan, frames } = useWorkspace();
  const { file, edit } = plan!;
  const reels = file.reels ?? [];
  const [chosen, setChosen] = useState<string | null>(null);
  const reel = reels.find((r) => r.id === chosen) ?? reels[0];
  const rate = parseRate(file.sheet.rate);
  const put = (next: Reel): string | null => {
    const read = reelSchema.safeParse(next);
    if (!read.success) return fieldProblem(read.error);
    return edit((f) => ({ ...f, reels: reels.map((r) => (r.id === next.id ? read.data : r)) }));
  };
  const add = (): void => {
    const name = freeName(
      LABELS.reel,
      reels.map((r) => r.name),
    );
    const id = freeId(
      name,
      reels.map((r) => r.id),
    );
    const parts = file.shots.filter((s) => !s.off && kindOf(s).moving).map((s) => ({ shot: s.id }));
    const first = reelSchema.parse({ id, name, parts: parts.length > 0 ? parts : [{ shot: file.shots[0]!.id }] });
    const problem = edit((f) => ({ ...f, reels: [...reels, first] }));
    toastProblem(problem);
    if (!problem) setChosen(id);
  };
  const cut = useRef<HTMLInputElement>(null);
  /** A reel out of a cut that another program wrote. */
  const bring = async (brought: File): Promise<void> => {
    try {
      const made = readCut(await brought.text(), file, frames);
      const problem = edit((f) => ({ ...f, reels: [...(f.reels ?? []), made] }));
      if (problem) throw new Error(problem);
      setChosen(made.id);
    } catch (e) {
      toast.error(MESSAGES.wasNotImported(brought.name, (e as Error).message));
    }
  };
  const [open, setOpen] = useState(false);
  const whole = useMemo(() => (open && reel ? planned(reel, file, frames) : undefined), [open, reel, file, frames]);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className={className} disabled={file.shots.length === 0}>
        {LABELS.reelsCount(reels.length > 0 ? ` ${reels.length}` : '')}
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-40 flex max-h-[88vh] w-[820px] -translate-x-1/2 -translate-y-1/2 flex-col overflow-auto border border-graphite bg-chalk p-5">
          <Dialog.Title className="text-lg font-semibold">{LABELS.reels}</Dialog.Title>
          <Dialog.Description className="mb-3 text-graphite">{HELP.shotsJoinedIntoOne}</Dialog.Description>
          <div className="flex items-end gap-4">
            {reel && (
              <div className="w-56">
                <Select
                  label={LABELS.reel}
                  help={HELP.reel}
                  value={reel.id}
                  options={reels.map((r) => ({ value: r.id, label: r.name }))}
                  onValue={setChosen}
                />
              </div>
            )}
            {reel && (
              <div className="w-56">
                <TextField label={LABELS.reelName} help={HELP.reelName} value={reel.name} onValue={(name) => put({ ...reel, name })} />
              </div>
            )}
            <Button onClick={add}>
              <Plus size={14} aria-hidden /> {LABELS.newReel}
            </Button>
            <Button title={HELP.makesAReelFrom} onClick={() => cut.current?.click()}>
              {LABELS.importEdit}
            </Button>
            <FileInput input={cut} accept=".otio,.edl,.json,.txt" label={LABELS.editFile} onFile={bring} />
            {reel && (
              <Button
                onClick={() => {
                  const rest = reels.filter((r) => r.id !== reel.id);
                  toastProblem(edit((f) => ({ ...f, reels: rest.length > 0 ? rest : undefined })));
                }}
              >
                {LABELS.delete}
              </Button>
            )}
          </div>
          {reel && whole !== undefined && (
            <>
              <ol className="mt-3">
                {reel.parts.map((part, i) => (
                  <Part
                    key={`${reel.id} ${i} ${part.shot}`}
                    part={part}
                    index={i}
                    file={file}
                    note={typeof whole === 'string' ? undefined : whole.parts[i]?.note}
                    put={(values) => put({ ...reel, parts: reel.parts.map((p, k) => (k === i ? { ...p, ...values } : p)) })}
                    out={() => toastProblem(put({ ...reel, parts: reel.parts.filter((_, k) => k !== i) }))}
                    carry={(by) => toastProblem(put({ ...reel, parts: moveItem(reel.parts, i, by) }))}
                  />
                ))}
              </ol>
              <div className="mt-3 flex items-center gap-4">
                <Button
                  onClick={() => toastProblem(put({ ...reel, parts: [...reel.parts, { shot: file.shots[0]!.id, speed: 1, seconds: 2, fade: 0 }] }))}
                >
                  <Plus size={14} aria-hidden /> {LABELS.addClip}
                </Button>
                {typeof whole === 'string' ? (
                  <p role="alert" className="text-ochre">
                    {whole}
                  </p>
                ) : (
                  <p className="num" data-testid="reel-length">
                    {pluralize(whole.frames.length, 'frame')} · {timecode(whole.frames.length, rate)} ·{' '}
                    {Number(frameTime(whole.frames.length, rate).toFixed(2))} s
                  </p>
                )}
                {typeof whole !== 'string' && (
                  <span className="ml-auto flex gap-4">
                    <button
                      type="button"
                      className="underline"
                      onClick={() => saveText(`${slugify(reel.name)}.otio`, timelineOtio(file, frames, reel))}
                    >
                      {LABELS.exportOpentimelineio}
                    </button>
                    <button
                      type="button"
                      className="underline"
                      onClick={() => saveText(`${slugify(reel.name)}.edl`, decisionList(file, frames, reel))}
                    >
                      {LABELS.exportEditList}
                    </button>
                  </span>
                )}
              </div>
            </>
          )}
          <Dialog.Close className="absolute right-4 top-4 underline">{LABELS.close}</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
