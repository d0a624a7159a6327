/** Keeps what is on the desk under a name, and takes it up again in another set or project. */
import { type ReactNode, useRef, useState } from 'react';
import { Download, Star, Trash2 } from 'lucide-react';
import { Popover } from 'radix-ui';
import useSWR from 'swr';
import type { PresetReply } from '../../contract/presets.js';
import { parsePreset, parsePresetFile, type PresetBody, type PresetKind, WITH_DEFAULT } from '../../core/edit/presets.js';
import { get, send } from '../state/api.js';
import { toast } from '../state/toast.js';
import { Button, TextField } from './controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';
import { FileInput } from './FileInput.js';

/** What is kept and used under a name. */
export interface PresetMenuProps<K extends PresetKind> {
  kind: K;
  /** What is kept: a noun, as "format sheet". */
  what: string;
  /** As it is now; nothing can be kept where absent. */
  body?: PresetBody<K>;
  /** Takes a kept one; returns what is wrong, or null. */
  onUse: (body: PresetBody<K>, name: string) => string | null;
  className?: string;
}

/** Presets of one kind: kept, used, exported, imported. */
export function PresetMenu<K extends PresetKind>({ kind, what, body, onUse, className }: PresetMenuProps<K>): ReactNode {
  const key = `/presets?kind=${kind}`;
  const { data: list = [], mutate } = useSWR<PresetReply[], Error>(key, get);
  const [name, setName] = useState('');
  const [open, setOpen] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const ask = async (work: () => Promise<unknown>): Promise<void> => {
    try {
      await work();
    } catch (e) {
      toast.error((e as Error).message);
    }
    await mutate();
  };
  const use = (preset: PresetReply): void => {
    const problem = onUse(parsePreset(kind, preset.body), preset.name);
    if (problem) toast.error(problem);
    else setOpen(false);
  };
  const bring = (file: File | undefined): Promise<void> =>
    ask(async () => {
      if (!file) return;
      const preset = parsePresetFile(JSON.parse(await file.text()));
      if (preset.kind !== kind) throw new Error(MESSAGES.isANotA(file.name, preset.kind, what));
      await send('POST', '/presets', preset);
    });
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger className={className ?? 'text-left text-xs text-cobalt underline'}>{LABELS.manage}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-40 flex w-72 flex-col gap-2 border border-graphite bg-chalk p-3"
          aria-label={LABELS.savedOf(what)}
        >
          {body !== undefined && (
            <div className="flex items-end gap-2">
              <div className="min-w-0 flex-1">
                <TextField
                  label={LABELS.saveAs(what)}
                  help={HELP.anExistingPresetOf}
                  value={name}
                  onValue={(v) => {
                    setName(v.trim().slice(0, 80));
                    return null;
                  }}
                />
              </div>
              <Button disabled={name === ''} onClick={() => void ask(() => send('POST', '/presets', { kind, name, body }))}>
                {LABELS.save}
              </Button>
            </div>
          )}
          {list.length === 0 && <p className="text-sm text-graphite">{MESSAGES.noneSavedYet}</p>}
          <ul className="max-h-64 overflow-auto">
            {list.map((r) => (
              <li key={r.id} className="flex items-center gap-2 border-b border-rule py-1 last:border-b-0">
                <button type="button" className="min-w-0 flex-1 truncate text-left underline" onClick={() => use(r)}>
                  {r.name}
                </button>
                {WITH_DEFAULT.includes(kind) && (
                  <button
                    type="button"
                    aria-pressed={r.isDefault}
                    aria-label={LABELS.newProjectsUse(r.name)}
                    title={LABELS.useForNewProjects}
                    className={r.isDefault ? 'text-madder' : 'text-graphite'}
                    onClick={() => void ask(() => send('PUT', `/presets/${r.id}`, { isDefault: !r.isDefault }))}
                  >
                    <Star size={14} aria-hidden fill={r.isDefault ? 'currentColor' : 'none'} />
                  </button>
                )}
                <a href={`/api/presets/${r.id}/export`} download aria-label={LABELS.export(r.name)} className="text-graphite">
                  <Download size={14} aria-hidden />
                </a>
                <button
                  type="button"
                  aria-label={LABELS.delete(r.name)}
                  className="text-graphite"
                  onClick={() => void ask(() => send('DELETE', `/presets/${r.id}`))}
                >
                  <Trash2 size={14} aria-hidden />
                </button>
              </li>
            ))}
          </ul>
          <button type="button" className="text-left text-sm underline" onClick={() => input.current?.click()}>
            {LABELS.importPresetFile}
          </button>
          <FileInput input={input} accept=".json" label={LABELS.presetFile(what)} onFile={bring} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
