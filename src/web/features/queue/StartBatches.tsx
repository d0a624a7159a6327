/** Batches of sets of any project, started together from the queue. */
import { type ReactNode, useState } from 'react';
import { Dialog } from 'radix-ui';
import { mutate } from 'swr';
import type { BatchReply } from '../../../contract/batches.js';
import type { ProjectReply } from '../../../contract/contract.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { send } from '../../state/api.js';
import { toast } from '../../state/toast.js';
import { Button } from '../../ui/controls.js';
import { openFaults } from '../shots/openFaults.js';
import { StartDialog } from '../shots/StartDialog.js';
import { HELP, LABELS, MESSAGES } from './words.js';

interface Order {
  set: number;
  name: string;
  revision: number;
}

/** Starts batches of several sets of several projects. */
export function StartBatches({ projects, onDone }: { projects: ProjectReply[]; onDone: () => void }): ReactNode {
  const [orders, setOrders] = useState<ReadonlyMap<number, Order>>(new Map());
  const [busy, setBusy] = useState(false);
  /** Open faults of each set, while somebody is asked about them. */
  const [asked, setAsked] = useState<ReadonlyMap<number, string[]> | null>(null);
  const choose = (order: Order, on: boolean): void => {
    const next = new Map(orders);
    if (on) next.set(order.set, order);
    else next.delete(order.set);
    setOrders(next);
  };
  const check = async (): Promise<Map<number, string[]>> => {
    const found = new Map<number, string[]>();
    for (const { set, revision } of orders.values()) {
      const faults = await openFaults(set, new URLSearchParams({ revision: String(revision) }));
      if (faults.length > 0) found.set(set, faults);
    }
    return found;
  };
  /** @param accepted what was asked about; null where nobody was asked yet. */
  const start = async (accepted: ReadonlyMap<number, string[]> | null): Promise<void> => {
    setBusy(true);
    setAsked(null);
    let begun = 0;
    try {
      if (!accepted) {
        const open = await check();
        if (open.size > 0) {
          setAsked(open);
          return;
        }
      }
      for (const { set, revision } of orders.values()) {
        const acceptedFaults = accepted?.get(set);
        await send<BatchReply>('POST', `/sets/${set}/batches`, { revision, ...(acceptedFaults && { acceptedFaults }) });
        begun++;
      }
      toast(MESSAGES.started(pluralize(begun, 'batch', 'batches')));
      onDone();
    } catch (e) {
      // What is queued by then is rendered all the same.
      toast.error(begun === 0 ? (e as Error).message : MESSAGES.startedBefore(pluralize(begun, 'batch', 'batches'), (e as Error).message));
    } finally {
      await mutate('/batches');
      setBusy(false);
    }
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onDone()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-ink/40" />
        <Dialog.Content className="fixed left-1/2 top-1/2 z-30 w-[640px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 border border-graphite bg-chalk p-5">
          <Dialog.Title className="text-lg font-semibold">{LABELS.startBatches}</Dialog.Title>
          <Dialog.Description className="mb-3 text-graphite">{HELP.startBatches}</Dialog.Description>
          <div className="max-h-[56vh] overflow-auto">
            {projects
              .filter((p) => p.revisions.length > 0)
              .map((project) => (
                <section key={project.id} className="mb-3">
                  <h3 className="font-head text-xs font-medium text-graphite">{project.name}</h3>
                  {project.sets
                    .filter((s) => s.frames > 0 && s.problem === undefined)
                    .map((s) => {
                      const chosen = orders.get(s.id);
                      const revision = chosen?.revision ?? project.revisions.at(-1)!.id;
                      return (
                        <div key={s.id} className="flex items-center gap-3 border-t border-rule py-1.5">
                          <label className="flex min-w-0 flex-1 items-center gap-2">
                            <input
                              type="checkbox"
                              className="accent-madder"
                              aria-label={LABELS.choose(s.name)}
                              title={HELP.choose}
                              checked={chosen !== undefined}
                              onChange={(e) => choose({ set: s.id, name: s.name, revision }, e.target.checked)}
                            />
                            <span className="truncate">{s.name}</span>
                          </label>
                          <span className="num text-sm text-graphite">{pluralize(s.frames, 'frame')}</span>
                          <label className="flex items-center gap-2 text-sm text-graphite" title={HELP.revision}>
                            {LABELS.revision}
                            <select
                              className="border border-rule bg-chalk"
                              aria-label={`${LABELS.revision}, ${s.name}`}
                              value={revision}
                              onChange={(e) => choose({ set: s.id, name: s.name, revision: Number(e.target.value) }, true)}
                            >
                              {project.revisions.map((r) => (
                                <option key={r.id} value={r.id}>
                                  {r.letter}
                                </option>
                              ))}
                            </select>
                          </label>
                        </div>
                      );
                    })}
                </section>
              ))}
          </div>
          <div className="mt-4 flex justify-end gap-3 border-t border-rule pt-3">
            <Button onClick={onDone}>{LABELS.cancel}</Button>
            <Button primary disabled={busy || orders.size === 0} onClick={() => void start(null)}>
              {LABELS.startCount(pluralize(orders.size, 'batch', 'batches'))}
            </Button>
          </div>
          {asked && (
            <StartDialog
              faults={[...asked].flatMap(([set, faults]) => faults.map((f) => `${orders.get(set)?.name ?? ''}: ${f}`))}
              onCancel={() => setAsked(null)}
              onLook={() => {
                const [set] = asked.keys();
                const project = projects.find((p) => p.sets.some((s) => s.id === set))!;
                window.location.assign(`/p/${project.id}/s/${set}/preflight`);
              }}
              onStart={() => void start(asked)}
            />
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
