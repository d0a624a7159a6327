/** A field's label, its help on hover and on focus, and what is wrong, in place. */
import { type ReactNode, useEffect, useId, useState } from 'react';
import { flushSync } from 'react-dom';
import { Tooltip } from 'radix-ui';
import type { Setting } from '../../core/plan/noEffect.js';
import { useNoEffect } from './noEffect.js';
import { MESSAGES } from './words.js';

/** Help beside what it is about: it never takes a click and never lies on what it explains. */
export function HelpTip({ help, children }: { help: string | undefined; children: ReactNode }): ReactNode {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    if (!open) return undefined;
    // Whoever types has read it. It is gone before anybody else hears the key: an Escape is for what the field stands in.
    const close = (): void => flushSync(() => setOpen(false));
    window.addEventListener('keydown', close, true);
    return () => window.removeEventListener('keydown', close, true);
  }, [open]);
  if (!help) return children;
  return (
    <Tooltip.Root delayDuration={500} disableHoverableContent open={open} onOpenChange={setOpen}>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          side="top"
          align="start"
          sideOffset={4}
          className="help-tip z-50 max-w-72 rounded-sm border border-graphite bg-chalk px-2 py-1 text-sm text-ink"
        >
          {help}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

interface FieldProps {
  label: string;
  /** What it does, its unit, what it costs. */
  help: string;
  error?: string | null;
  /** The setting that it changes, so that it says where that has no effect. */
  setting?: Setting | undefined;
  /** Is given the id that the label is for, and the ids of what describes the field. */
  children: (id: string, describedBy: string) => ReactNode;
}

/** A label with what it names. */
export function Field({ label, help, error, setting, children }: FieldProps): ReactNode {
  const id = useId();
  const idle = useNoEffect(setting);
  return (
    <HelpTip help={help}>
      <div className="relative min-w-0">
        <label htmlFor={id} className="block cursor-help truncate font-head text-xs font-medium text-graphite">
          {label}
        </label>
        {children(id, `${id}-h ${id}-e${idle ? ` ${id}-n` : ''}`)}
        {idle && (
          <p id={`${id}-n`} className="pt-0.5 text-xs text-ochre">
            {MESSAGES.noEffect(idle)}
          </p>
        )}
        <span id={`${id}-h`} hidden>
          {help}
        </span>
        {/* Over what stands below: were it between, the click that leaves the field would miss what it was meant for. */}
        <p
          id={`${id}-e`}
          role={error ? 'alert' : undefined}
          className={error ? 'pointer-events-none absolute inset-x-0 top-full z-10 border-b border-ochre bg-chalk pb-0.5 text-xs text-ochre' : ''}
        >
          {error}
        </p>
      </div>
    </HelpTip>
  );
}
