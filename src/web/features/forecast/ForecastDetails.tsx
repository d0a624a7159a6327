/** The forecast in detail: its range, the room that files need, and what could be changed to be done by an hour. */
import type { ReactNode } from 'react';
import type { ForecastReply } from '../../../contract/forecast.js';
import type { Choice, PictureChange } from '../../../core/forecast/choices.js';
import { secondsUntil } from '../../../core/forecast/secondsUntil.js';
import { applyPatch } from '../../../core/preflight/patch.js';
import { resolveSampling } from '../../../core/frame/settings.js';
import { about, fileSize, formatEta } from '../../app/format.js';
import { useWorkspace } from '../../app/workspace.js';
import { toast } from '../../state/toast.js';
import { Button, TextField } from '../../ui/controls.js';
import type { ForecastState } from './useForecastState.js';
import { HELP, LABELS, MESSAGES } from './words.js';

function Files({ answer }: { answer: ForecastReply }): ReactNode {
  return (
    <section aria-label={LABELS.files}>
      <h3 className="font-head text-xs font-medium text-graphite">{LABELS.files}</h3>
      <ul className="num">
        {answer.files.map(({ file, bytes }) => (
          <li key={file} className="flex justify-between gap-6">
            <span>{file.toUpperCase().startsWith('EXR') ? 'OpenEXR' : file}</span>
            <span>{fileSize(bytes)}</span>
          </li>
        ))}
        <li className={`mt-1 flex justify-between gap-6 border-t border-rule pt-1 ${answer.free < answer.bytes ? 'text-ochre' : 'text-graphite'}`}>
          <span>{LABELS.freeOnDisk}</span>
          <span>{fileSize(answer.free)}</span>
        </li>
      </ul>
    </section>
  );
}

/** The middle of the first frame as a change would render it; as planned where there is none. */
function Picture({ change, label }: { change: PictureChange | null; label: string }): ReactNode {
  const { plan, setId, revision, frames } = useWorkspace();
  const first = frames[0];
  if (!first || !revision) return null;
  const { denoise } = resolveSampling(plan!.file.sheet.quality);
  const { samples, scale, denoise: denoised } = change ?? { samples: 1, scale: 1, denoise };
  const query = new URLSearchParams({
    revision: String(revision.id),
    run: first.shot,
    number: String(first.number),
    samples: String(samples),
    scale: String(scale),
    denoise: String(denoised),
    // Another state of the set has another picture.
    v: plan!.version,
  });
  return (
    <figure className="w-40 shrink-0">
      <img src={`/api/sets/${setId}/choice.webp?${query.toString()}`} alt={label} className="h-[90px] w-40 bg-mount object-cover" />
      <figcaption className="text-xs text-graphite">{label}</figcaption>
    </figure>
  );
}

function ChoiceRow({ choice, onApply }: { choice: Choice; onApply: () => void }): ReactNode {
  return (
    <li className="flex items-start gap-4 border-t border-rule py-2">
      <div className="min-w-0 flex-1">
        <p className="font-medium">{choice.label}</p>
        <p className="num text-graphite">
          {MESSAGES.done(about(choice.seconds.likely), formatEta(choice.seconds.likely))}, {fileSize(choice.bytes)}
        </p>
        <p className={choice.meets ? '' : 'text-ochre'}>{choice.meets ? LABELS.inTime : LABELS.tooLate}</p>
        <Button className="mt-1" onClick={onApply} aria-label={`${LABELS.apply}: ${choice.label}`}>
          {LABELS.apply}
        </Button>
      </div>
      {choice.picture && <Picture change={choice.picture} label={LABELS.asChosen} />}
    </li>
  );
}

/** The forecast by run and by file, and ways to be done by an hour. */
export function ForecastDetails({ state }: { state: ForecastState }): ReactNode {
  const { plan } = useWorkspace();
  const { answer, pending, doneBy, setDoneBy, select, setSelect } = state;
  if (!answer) return null;
  const { low, likely, high } = answer.seconds;
  const within = secondsUntil(doneBy, new Date());
  const apply = ({ patch, select: chosen, label }: Choice): void => {
    if (patch) {
      let problem: string | null;
      try {
        problem = plan!.edit((f) => applyPatch(f, patch));
      } catch (e) {
        problem = (e as Error).message;
      }
      if (problem) toast.error(problem);
      else toast(MESSAGES.applied(label));
    } else if (chosen !== undefined) {
      setSelect(chosen);
      toast(MESSAGES.applied(label), { action: { label: LABELS.undo, onClick: () => setSelect(select) } });
    }
  };
  const choices = answer.choices ?? [];
  return (
    <>
      <div className="flex justify-between gap-8">
        <div className="flex flex-col gap-1">
          <p className="num text-lg">{about(likely)}</p>
          <p className="text-graphite">{MESSAGES.range(about(low), about(high))}</p>
          <p className="text-graphite">{MESSAGES.basis(answer.tried, answer.frames, answer.learntFrom)}</p>
        </div>
        <Files answer={answer} />
      </div>
      <div className="w-40">
        <TextField
          label={LABELS.doneBy}
          help={HELP.doneBy}
          mono
          value={doneBy}
          onValue={(typed) => {
            if (typed.trim() !== '' && secondsUntil(typed, new Date()) === null) return MESSAGES.noTime;
            setDoneBy(typed.trim());
            return null;
          }}
        />
      </div>
      {within !== null && !pending && (
        <section aria-label={LABELS.doneBy}>
          <div className="flex justify-between gap-4 pb-2">
            <div>
              <p>{likely <= within ? MESSAGES.inTime(formatEta(likely)) : MESSAGES.late(formatEta(likely))}</p>
              {likely > within && !choices.some((c) => c.meets) && <p className="text-ochre">{MESSAGES.nothingHelps}</p>}
            </div>
            {choices.some((c) => c.picture) && <Picture change={null} label={LABELS.asPlanned} />}
          </div>
          <ul className="mt-1">
            {choices.map((c) => (
              <ChoiceRow key={c.kind} choice={c} onApply={() => apply(c)} />
            ))}
          </ul>
        </section>
      )}
      {within !== null && pending && <p className="text-graphite">{MESSAGES.begins}</p>}
    </>
  );
}
