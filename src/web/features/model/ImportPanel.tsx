import { type DragEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import { mutate } from 'swr';
import type { ProjectReply } from '../../../contract/contract.js';
import { ARCHIVE_EXTENSIONS, EXT_WITHOUT_UNITS, EXT_IMPLIED_UNITS, SIDECAR_EXTENSIONS, EXT_WITH_UNITS } from '../../../core/model/fileExtensions.js';
import { quickBounds } from '../../../core/model/quickBounds.js';
import { LENGTH_UNITS, METRES, type LengthUnit } from '../../../core/units/length.js';
import { clearDropped, useDroppedModel } from '../../state/droppedModel.js';
import { upload } from '../../state/api.js';
import type { ImportProgress } from '../../state/projectEvents.js';
import { Button, Select, Checkbox } from '../../ui/controls.js';
import { namesInside } from './archiveNames.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const ASKED = new RegExp(`\\.(${EXT_WITHOUT_UNITS.join('|')})$`, 'i');
const ACCEPTED = [...EXT_WITH_UNITS, ...EXT_WITHOUT_UNITS, ...EXT_IMPLIED_UNITS, ...ARCHIVE_EXTENSIONS, ...SIDECAR_EXTENSIONS]
  .map((e) => `.${e}`)
  .join();

/** Width, height and depth in metres, as they would come in. */
function sizeWords([x, y, z]: [number, number, number], unit: LengthUnit, up: string): string {
  const metres = (v: number): string => Number((v * METRES[unit]).toPrecision(3)).toString();
  const [height, depth] = up === 'z' ? [z, y] : [y, z];
  return MESSAGES.mWideMHigh(metres(x), metres(height), metres(depth));
}

interface ImportPanelProps {
  project: ProjectReply;
  importing: ImportProgress | null;
  /** `dropped`: the model was dropped elsewhere and brought here. */
  onDone: (dropped: boolean) => void;
  /** Whether the faces of solids are kept apart unless this is changed here. */
  facesApart?: boolean;
}

/** Takes a model by drop or by choice; asks for unit and up axis where the file does not say. */
export function ImportPanel({ project, importing, onDone, facesApart = false }: ImportPanelProps): ReactNode {
  const [files, setFiles] = useState<File[]>([]);
  const [unit, setUnit] = useState<LengthUnit>('m');
  const [rough, setRough] = useState<[number, number, number] | null>(null);
  const [up, setUp] = useState('y');
  /** Whether the model among the files leaves its unit open. */
  const [asks, setAsks] = useState(false);
  const [apart, setApart] = useState(facesApart);
  const [busy, setBusy] = useState(false);
  const [error, setError] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const dropped = useRef(false);
  const stop = useRef<AbortController | null>(null);
  const turn = useRef(0);
  const bring = async (list: File[], asked: Record<string, string>): Promise<void> => {
    const query = new URLSearchParams({ ...asked, ...(apart && { faces: 'apart' }) }).toString();
    setBusy(true);
    setError(null);
    try {
      stop.current = new AbortController();
      const reply = await upload<ProjectReply>(`/projects/${project.id}/model?${query}`, list, stop.current.signal);
      await mutate(`/projects/${project.id}`, reply, { revalidate: false });
      onDone(dropped.current);
    } catch (e) {
      setError((e as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const held = useDroppedModel(project.id);
  useEffect(() => {
    if (!held || busy) return;
    dropped.current = true;
    clearDropped();
    void take(held.files);
  }, [held, busy]);
  const take = async (list: File[]): Promise<void> => {
    setError(null);
    setFiles(list);
    setRough(null);
    const mine = ++turn.current;
    const asking = (await namesInside(list)).find((name) => ASKED.test(name));
    // Others were chosen meanwhile.
    if (mine !== turn.current) return;
    setAsks(asking !== undefined);
    // Printed and machined things are drawn in millimetres with Z up, mostly.
    const machined = asking !== undefined && /\.stl$/i.test(asking);
    setUnit(machined ? 'mm' : 'm');
    setUp(machined ? 'z' : 'y');
    const plain = list.find((f) => f.name === asking);
    if (plain) setRough(quickBounds(plain.name, new Uint8Array(await plain.arrayBuffer())));
    else if (asking === undefined && list.length > 0) await bring(list, {});
  };
  const onDrop = (e: DragEvent): void => {
    e.preventDefault();
    if (!busy) void take([...e.dataTransfer.files]);
  };
  return (
    <div className="flex min-h-0 flex-1 items-center justify-center p-8" onDragOver={(e) => e.preventDefault()} onDrop={onDrop} data-testid="drop">
      <div className="w-[460px] border border-dashed border-graphite bg-chalk p-8">
        <p className="text-lg font-semibold">{LABELS.dropAModelHere}</p>
        <p className="mt-1 text-graphite">{MESSAGES.glbStepIgesBrep}</p>
        <div className="mt-3">
          <Checkbox label={LABELS.separateFaces} help={HELP.separateFaces} checked={apart} onChecked={setApart} />
        </div>
        <input
          ref={input}
          type="file"
          multiple
          accept={ACCEPTED}
          className="hidden"
          aria-label={LABELS.modelFiles}
          onChange={(e) => void take([...(e.target.files ?? [])])}
        />
        {files.length > 0 && <p className="num mt-4 truncate text-sm">{files.map((f) => f.name).join(', ')}</p>}
        {asks && (
          <div className="mt-4 grid grid-cols-2 gap-4">
            <Select
              label={LABELS.unit}
              help={HELP.unit}
              value={unit}
              options={LENGTH_UNITS.map((u) => ({ value: u, label: u }))}
              onValue={(v) => setUnit(v as LengthUnit)}
            />
            <Select
              label={LABELS.upAxis}
              help={HELP.upAxis}
              value={up}
              options={[
                { value: 'y', label: LABELS.yIsUp },
                { value: 'z', label: LABELS.zIsUp },
              ]}
              onValue={setUp}
            />
          </div>
        )}
        {asks && rough && (
          <p className="num mt-3 text-sm" data-testid="rough-size">
            {sizeWords(rough, unit, up)}
          </p>
        )}
        <div className="mt-5 flex items-center gap-3">
          {asks && (
            <Button primary disabled={busy} onClick={() => void bring(files, { unit, up })}>
              {LABELS.import}
            </Button>
          )}
          <Button primary={!asks} disabled={busy} onClick={() => input.current?.click()}>
            {LABELS.chooseFiles}
          </Button>
          {busy && <Button onClick={() => stop.current?.abort()}>{LABELS.stop}</Button>}
          {busy && (
            <span className="text-graphite">{importing ? `${importing.what} … ${Math.round(importing.share * 100)} %` : MESSAGES.uploading}</span>
          )}
        </div>
        {error && (
          <p role="alert" className="mt-4 border-l-[3px] border-ochre pl-3 text-ochre">
            {MESSAGES.nothingWasChanged(error)}
          </p>
        )}
      </div>
    </div>
  );
}
