/** Which set is laid on which model, in which variants: how well they align, and batches of them started together. */
import { type ReactNode, useMemo, useState } from 'react';
import { Dialog } from 'radix-ui';
import { useNavigate } from 'react-router';
import useSWR, { mutate } from 'swr';
import type { BatchReply } from '../../../contract/batches.js';
import type { ProjectReply, RevisionReply, SetReply } from '../../../contract/contract.js';
import { pluralize } from '../../../core/base/pluralize.js';
import { alignmentSummary } from '../../../core/camera/alignment.js';
import { missingPartPaths, namedPaths } from '../../../core/edit/remapParts.js';
import { transformedBounds } from '../../../core/model/modelTransform.js';
import type { SetFile } from '../../../core/plan/set.js';
import { useWorkspace } from '../../app/workspace.js';
import { get, send } from '../../state/api.js';
import { useParts, useProjects } from '../../state/queries.js';
import { toast } from '../../state/toast.js';
import { Button, Select } from '../../ui/controls.js';
import { openFaults } from './openFaults.js';
import { StartDialog } from './StartDialog.js';
import { HELP, LABELS, MESSAGES } from './severalWords.js';

/** The variant that the set shows; no id is written like this. */
const AS_PLANNED = '';
const NO_MODEL = '0';
/** Pixels that a subject may move without a remark: less is not seen. */
const MOVED_LIMIT = 1;
/** Percent by which a scale may differ without a remark. */
const SCALED_LIMIT = 0.5;

/** By orderKey. */
type Faults = Map<string, string[]>;

const orderKey = ({ key, variant }: { key: string; variant: string }): string => `${key} ${variant}`;

interface OnModel {
  revision: RevisionReply;
  /** Of which project, where it is another. */
  project: string | null;
}

interface RowProps extends OnModel {
  set: number;
  name: string;
  /** Of this set, where it is the one that is edited. */
  own: SetFile | null;
  first: RevisionReply;
  chosen: ReadonlySet<string>;
  onChoose: (variants: Set<string>) => void;
}

/** What does not fit, as short sentences. */
function remarksOf(file: SetFile, first: RevisionReply, revision: RevisionReply, paths: ReadonlySet<string> | null): string[] {
  const { size, pixelAspect } = file.sheet;
  const [from, to] = [first, revision].map((r) => transformedBounds(file.transform, r.bounds));
  const { moved, scaled, cropped } = alignmentSummary(file.views, size, pixelAspect, from!, to!);
  const lost = paths ? missingPartPaths(file, paths).length : 0;
  return [
    ...(moved !== null && moved > MOVED_LIMIT ? [MESSAGES.movesBy(moved.toFixed(0))] : []),
    ...(scaled !== null && scaled >= SCALED_LIMIT ? [MESSAGES.scalesBy(scaled.toFixed(1))] : []),
    ...(cropped > 0 ? [MESSAGES.cropped(pluralize(cropped, 'view'))] : []),
    ...(lost > 0 ? [MESSAGES.lost(pluralize(lost, 'part'))] : []),
  ];
}

function Row({ set, name, own, first, revision, project, chosen, onChoose }: RowProps): ReactNode {
  const { data, error } = useSWR<SetReply, Error>(own ? null : `/sets/${set}`, get);
  const file = own ?? data?.file ?? null;
  const asked = useMemo(() => file !== null && namedPaths(file).length > 0, [file]);
  const { data: parts } = useParts(asked ? revision.id : undefined);
  const remarks = useMemo(
    () => (file ? remarksOf(file, first, revision, parts ? new Set(parts.map((p) => p.path)) : null) : []),
    [file, first, revision, parts],
  );
  const toggle = (variant: string): void => {
    const next = new Set(chosen);
    if (!next.delete(variant)) next.add(variant);
    onChoose(next);
  };
  const variants = [{ id: AS_PLANNED, name: LABELS.asPlanned }, ...(file?.materials?.variants ?? [])];
  const model = project === null ? LABELS.revision(revision.letter) : `${project}, ${LABELS.revision(revision.letter)}`;
  return (
    <tr className="border-t border-rule align-top">
      <td className="max-w-52 truncate py-1.5 pr-4 font-medium" title={name}>
        {name}
      </td>
      <td className="py-1.5 pr-4">
        {model}
        <span className="block max-w-52 truncate text-xs text-graphite">{revision.fileName}</span>
      </td>
      <td className="py-1.5 pr-4">
        {!file && (error ? <span className="text-ochre">{error.message}</span> : <span className="text-graphite">{MESSAGES.loading}</span>)}
        {file && remarks.length === 0 && <span className="text-graphite">{file.views.length === 0 ? MESSAGES.noViews : MESSAGES.aligned}</span>}
        {remarks.map((r) => (
          <span key={r} className="block text-ochre">
            {r}
          </span>
        ))}
      </td>
      <td className="py-1">
        {file && file.shots.length === 0 ? (
          <span className="text-graphite">{MESSAGES.noShots}</span>
        ) : (
          variants.map((v) => (
            <label key={v.id} className="flex items-center gap-2 py-0.5">
              <input
                type="checkbox"
                className="accent-madder"
                aria-label={LABELS.start(name, model, v.name)}
                title={HELP.start}
                disabled={!file}
                checked={chosen.has(v.id)}
                onChange={() => toggle(v.id)}
              />
              {v.name}
            </label>
          ))
        )}
      </td>
    </tr>
  );
}

/** Models that a set can be laid on besides this project's: the newest revision of each other project. */
function othersOf(projects: ProjectReply[] | undefined, own: number): OnModel[] {
  return (projects ?? []).flatMap((p) => (p.id !== own && p.revisions.length > 0 ? [{ revision: p.revisions.at(-1)!, project: p.name }] : []));
}

/** Starts batches of several revisions and variants. */
export function SeveralBatches({ select, onDone }: { select: string | undefined; onDone: () => void }): ReactNode {
  const { project, setId, plan } = useWorkspace();
  const navigate = useNavigate();
  const { data: projects } = useProjects();
  const [further, setFurther] = useState<number[]>([]);
  const [chosen, setChosen] = useState<ReadonlyMap<string, ReadonlySet<string>>>(new Map());
  const [busy, setBusy] = useState(false);
  /** Open faults of each order, while somebody is asked about them. */
  const [asked, setAsked] = useState<Faults | null>(null);
  const others = othersOf(projects, project.id);
  const models: OnModel[] = [
    ...project.revisions.map((revision) => ({ revision, project: null })),
    ...others.filter((o) => further.includes(o.revision.id)),
  ];
  const rows = project.sets.flatMap((s) => models.map((m) => ({ set: s.id, name: s.name, ...m, key: `${s.id} ${m.revision.id}` })));
  const orders = rows.flatMap((r) => [...(chosen.get(r.key) ?? [])].map((variant) => ({ ...r, variant })));
  const first = project.revisions[0]!;
  const choiceOf = ({ set, revision, variant }: (typeof orders)[number]): { revision: number; variant?: string; select?: string } => ({
    revision: revision.id,
    ...(variant !== AS_PLANNED && { variant }),
    ...(select !== undefined && set === setId && { select }),
  });
  /** Sentences about what is open, of each order that has any. */
  const check = async (): Promise<Faults> => {
    const found: Faults = new Map();
    for (const order of orders) {
      const query = Object.fromEntries(Object.entries(choiceOf(order)).map(([k, v]) => [k, String(v)]));
      const faults = await openFaults(order.set, new URLSearchParams(query));
      if (faults.length > 0) found.set(orderKey(order), faults);
    }
    return found;
  };
  /** @param accepted what was asked about; null where nobody was asked yet. */
  const start = async (accepted: Faults | null): Promise<void> => {
    setBusy(true);
    setAsked(null);
    let begun = 0;
    try {
      await plan!.flush();
      if (!accepted) {
        const open = await check();
        if (open.size > 0) {
          setAsked(open);
          return;
        }
      }
      for (const order of orders) {
        const { key, set, variant } = order;
        const acceptedFaults = accepted?.get(orderKey(order));
        const body = { ...choiceOf(order), ...(acceptedFaults && { acceptedFaults }) };
        await send<BatchReply>('POST', `/sets/${set}/batches`, body);
        begun++;
        // What has begun is not begun again by a second try.
        setChosen((now) => new Map(now).set(key, new Set([...(now.get(key) ?? [])].filter((v) => v !== variant))));
      }
      toast(MESSAGES.started(pluralize(begun, 'batch', 'batches')));
      onDone();
      await navigate(`/p/${project.id}/s/${setId}/batch`);
    } catch (e) {
      // What is queued by then is rendered all the same.
      toast.error(begun === 0 ? (e as Error).message : MESSAGES.startedBefore(pluralize(begun, 'batch', 'batches'), (e as Error).message));
    } finally {
      await mutate(`/batches?project=${project.id}`);
      setBusy(false);
    }
  };
  return (
    <>
      <Dialog.Title className="text-lg font-semibold">{LABELS.several}</Dialog.Title>
      <Dialog.Description className="mb-3 text-graphite">{HELP.severalBatches}</Dialog.Description>
      <div className="max-h-[56vh] overflow-auto">
        <table className="w-full border-collapse text-sm" aria-label={LABELS.several}>
          <thead className="sticky top-0 bg-chalk text-left font-head text-xs text-graphite">
            <tr>
              {[LABELS.set, LABELS.model, LABELS.comparedWithRevision(first.letter), LABELS.variants].map((h) => (
                <th key={h} className="pr-4 font-medium">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ key, ...row }) => (
              <Row
                key={key}
                {...row}
                own={row.set === setId ? plan!.file : null}
                first={first}
                chosen={chosen.get(key) ?? new Set()}
                onChoose={(variants) => setChosen(new Map(chosen).set(key, variants))}
              />
            ))}
          </tbody>
        </table>
      </div>
      <div className="mt-4 flex items-end gap-4 border-t border-rule pt-3">
        {others.length > 0 && (
          <div className="w-64">
            <Select
              label={LABELS.anotherModel}
              help={HELP.anotherModel}
              value={NO_MODEL}
              options={[
                { value: NO_MODEL, label: LABELS.chooseModel },
                ...others
                  .filter((o) => !further.includes(o.revision.id))
                  .map((o) => ({ value: String(o.revision.id), label: `${o.project}, ${LABELS.revision(o.revision.letter)}` })),
              ]}
              onValue={(id) => id !== NO_MODEL && setFurther([...further, Number(id)])}
            />
          </div>
        )}
        <Button className="ml-auto" onClick={onDone}>
          {LABELS.cancel}
        </Button>
        <Button primary disabled={busy || orders.length === 0} onClick={() => void start(null)}>
          {LABELS.startBatches(pluralize(orders.length, 'batch', 'batches'))}
        </Button>
      </div>
      {asked && (
        <StartDialog
          faults={orders.flatMap((o) => (asked.get(orderKey(o)) ?? []).map((f) => MESSAGES.faultOf(o.name, o.revision.letter, f)))}
          onCancel={() => setAsked(null)}
          onLook={() => {
            const first = orders.find((o) => asked.has(orderKey(o)))!;
            onDone();
            void navigate(`/p/${project.id}/s/${first.set}/preflight`);
          }}
          onStart={() => void start(asked)}
        />
      )}
    </>
  );
}
