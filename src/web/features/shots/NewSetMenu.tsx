/** A new set by a preset: one that comes with the application, made to measure for the model, or one's own. */
import { type ReactNode, useState } from 'react';
import { Dialog } from 'radix-ui';
import useSWR, { mutate } from 'swr';
import type { SetReply } from '../../../contract/contract.js';
import type { TemplateReply } from '../../../contract/presets.js';
import { rebaseProposal, rebaseSet } from '../../../core/edit/rebase.js';
import { isMeantFor } from '../../../core/edit/subjectSize.js';
import { type Bounds, emptyBounds, joinBounds } from '../../../core/math/bounds.js';
import { get, send } from '../../state/api.js';
import { useParts } from '../../state/queries.js';
import { toast } from '../../state/toast.js';
import { useWorkspace } from '../../app/workspace.js';
import { Select } from '../../ui/controls.js';
import { PresetMenu } from '../../ui/PresetMenu.js';
import { Thumbnail } from '../../ui/Thumbnail.js';
import { HELP, LABELS, MESSAGES } from './fileWords.js';

/** No path is written like this. */
const WHOLE = '/';

/** Metres of a length, to three figures. */
const metres = (value: number): string => Number(value.toPrecision(3)).toLocaleString('en');

const longestSide = ({ min, max }: Bounds): number => Math.max(0, ...max.map((v, i) => v - min[i]!));

/** Makes a set: empty, by a template, or from a file. */
export function NewSetMenu({ className, onMade }: { className: string; onMade: (id: number) => void }): ReactNode {
  const { project, revision, plan } = useWorkspace();
  const [open, setOpen] = useState(false);
  const { data: shipped = [] } = useSWR<TemplateReply[], Error>(open ? '/templates' : null, get);
  const { data: parts = [] } = useParts(open ? revision?.id : undefined);
  const [part, setPart] = useState(WHOLE);
  // What stands by itself: the uppermost parts that are no surroundings.
  const tops = parts.filter((p) => p.parent < 0 && !p.isContext);
  const measured = part === WHOLE ? {} : { part };
  const inSubject = parts.filter((p) => p.bounds && p.triangles > 0 && (p.path === part || p.path.startsWith(`${part}/`)));
  const bounds = part === WHOLE ? revision?.bounds : inSubject.reduce((all, p) => joinBounds(all, p.bounds!), emptyBounds());
  const size = bounds ? longestSide(bounds) : 0;
  const make = async (path: string, body: unknown): Promise<void> => {
    try {
      const reply = await send<SetReply>('POST', path, body);
      await mutate(`/projects/${project.id}`);
      setOpen(false);
      onMade(reply.id);
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className={className}>{LABELS.newSet}</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-50 max-h-[88vh] w-[760px] -translate-x-1/2 -translate-y-1/2 overflow-auto border border-graphite bg-chalk p-5">
          <Dialog.Title className="text-lg font-semibold">{LABELS.newSetFromTemplate}</Dialog.Title>
          <Dialog.Description className="mb-4 text-graphite">{HELP.viewsStageAndShots(revision!.letter)}</Dialog.Description>
          {tops.length > 1 && (
            <div className="mb-3 w-56">
              <Select
                label={LABELS.subject}
                help={HELP.subject}
                value={part}
                options={[{ value: WHOLE, label: LABELS.wholeModel }, ...tops.map((p) => ({ value: p.path, label: p.name }))]}
                onValue={setPart}
              />
            </div>
          )}
          <ul className="grid grid-cols-3 gap-4">
            {shipped.map((r) => (
              <li key={r.id}>
                <button
                  type="button"
                  className="w-full text-left"
                  onClick={() => void make(`/projects/${project.id}/sets/from-template`, { template: r.id, revision: revision!.id, ...measured })}
                >
                  <span className="flex h-[126px] items-center justify-center bg-mount p-1">
                    <Thumbnail
                      src={`/api/projects/${project.id}/templates/${r.id}/thumbnail?revision=${revision!.id}&part=${part === WHOLE ? '' : encodeURIComponent(part)}`}
                      alt=""
                      className="size-full object-contain"
                    />
                  </span>
                  <span className="block pt-1 font-medium">{r.name}</span>
                  <span className="block text-sm text-graphite">{r.help}</span>
                  {(r.subject.from ?? r.subject.to) !== undefined && (
                    <span className={`block text-sm ${size > 0 && !isMeantFor(r.subject, size) ? 'text-ochre' : 'text-graphite'}`}>
                      {r.subject.from === undefined ? MESSAGES.meantForUpTo(metres(r.subject.to!)) : MESSAGES.meantForFrom(metres(r.subject.from))}
                      {size > 0 && !isMeantFor(r.subject, size) && ` ${MESSAGES.theSubjectMeasures(metres(size))}`}
                    </span>
                  )}
                </button>
              </li>
            ))}
          </ul>
          <p className="mt-4 border-t border-rule pt-3 text-sm">
            {MESSAGES.savedSets}{' '}
            <PresetMenu
              kind="set"
              what="set"
              body={plan!.file}
              onUse={(file, name) => {
                // A set saved from another subject looks at this one from where it looked at that one.
                const other = rebaseProposal(file, revision!.bounds);
                const fitted = other ? rebaseSet(file, revision!.bounds, true) : file;
                if (other && other.views.length > 0) toast(MESSAGES.viewsFitted(other.views.join(', ')));
                void make(`/projects/${project.id}/sets`, { file: { ...fitted, name } });
                return null;
              }}
            />
          </p>
          <Dialog.Close className="absolute right-4 top-4 underline">{LABELS.close}</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
