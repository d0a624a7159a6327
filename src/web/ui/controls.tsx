/** Our few own controls: buttons and fields with a label, a unit and a word of help. */
import { type ComponentProps, type ReactNode, useEffect, useId, useState } from 'react';
import { Select as RadixSelect, Tooltip } from 'radix-ui';
import { Check, ChevronDown } from 'lucide-react';
import { formatNumber, parseField, type Quantity } from '../../core/units/field.js';
import { styleNonce } from './styleNonce.js';

const BUTTON = 'inline-flex h-[30px] shrink-0 items-center gap-1.5 whitespace-nowrap rounded-sm border px-3 font-medium';
const PLAIN = 'bg-chalk text-ink border-graphite';

/** The look of a plain button, for links and for what opens a menu. */
export const PLAIN_BUTTON = `${BUTTON} ${PLAIN}`;

type ButtonProps = ComponentProps<'button'> & { primary?: boolean };

export function Button({ primary = false, className = '', ...props }: ButtonProps): ReactNode {
  const look = primary ? 'bg-madder text-chalk border-madder' : PLAIN;
  return <button type="button" className={`${BUTTON} disabled:cursor-not-allowed disabled:opacity-50 ${look} ${className}`} {...props} />;
}

interface FieldProps {
  label: string;
  /** What it does, its unit, what it costs. */
  help: string;
  error?: string | null;
  children: (id: string, described: string) => ReactNode;
}

/** A label that explains itself on hover and focus, and says in place what is wrong. */
export function Field({ label, help, error, children }: FieldProps): ReactNode {
  const id = useId();
  return (
    <div className="relative min-w-0">
      <Tooltip.Root delayDuration={350}>
        <Tooltip.Trigger asChild>
          <label htmlFor={id} className="block cursor-help truncate font-head text-xs font-medium text-graphite">
            {label}
          </label>
        </Tooltip.Trigger>
        <Tooltip.Portal>
          <Tooltip.Content
            side="bottom"
            align="start"
            sideOffset={4}
            className="z-50 max-w-72 rounded-sm border border-graphite bg-chalk px-2 py-1 text-sm text-ink"
          >
            {help}
          </Tooltip.Content>
        </Tooltip.Portal>
      </Tooltip.Root>
      {children(id, `${id}-e`)}
      {/* Over what stands below: were it between, the click that leaves the field would miss what it was meant for. */}
      <p
        id={`${id}-e`}
        role={error ? 'alert' : undefined}
        className={error ? 'pointer-events-none absolute inset-x-0 top-full z-10 border-b border-ochre bg-chalk pb-0.5 text-xs text-ochre' : ''}
      >
        {error}
      </p>
    </div>
  );
}

const inputLook = 'h-7 w-full min-w-0 border-b border-graphite bg-transparent px-0 text-base outline-offset-2';

interface NumberFieldProps {
  label: string;
  help: string;
  value: number;
  quantity?: Quantity;
  unit?: string;
  step?: number;
  decimals?: number;
  disabled?: boolean;
  /** Returns what is wrong, or null. */
  onValue: (value: number) => string | null;
}

/** Takes units and arithmetic, steps with the arrow keys (shift ten times as far). */
export function NumberField({
  label,
  help,
  value,
  quantity = 'number',
  unit = '',
  step = 1,
  decimals = 3,
  disabled,
  onValue,
}: NumberFieldProps): ReactNode {
  const shown = formatNumber(value, decimals);
  const [text, setText] = useState(shown);
  const [error, setError] = useState<string | null>(null);
  useEffect(() => {
    setText(shown);
    setError(null);
  }, [shown]);
  const commit = (raw: string): void => {
    if (raw === shown) {
      setError(null);
      return;
    }
    try {
      const next = parseField(raw, quantity);
      const problem = onValue(next);
      setError(problem);
      if (!problem) setText(formatNumber(next, decimals));
    } catch (e) {
      setError((e as Error).message);
    }
  };
  return (
    <Field label={label} help={help} error={error}>
      {(id, described) => (
        <span className="flex items-end">
          <input
            id={id}
            className={`num ${inputLook}`}
            value={text}
            disabled={disabled}
            aria-describedby={described}
            aria-invalid={error !== null}
            autoComplete="off"
            onChange={(e) => setText(e.target.value)}
            onBlur={() => commit(text)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') commit(text);
              if (e.key === 'Escape') setText(shown);
              if (e.key !== 'ArrowUp' && e.key !== 'ArrowDown') return;
              e.preventDefault();
              commit(String(value + step * (e.shiftKey ? 10 : 1) * (e.key === 'ArrowUp' ? 1 : -1)));
            }}
          />
          {unit && <span className="h-7 border-b border-graphite pt-1 text-sm text-graphite">{unit}</span>}
        </span>
      )}
    </Field>
  );
}

interface TextFieldProps {
  label: string;
  help: string;
  value: string;
  mono?: boolean;
  onValue: (value: string) => string | null;
}

export function TextField({ label, help, value, mono = false, onValue }: TextFieldProps): ReactNode {
  const [text, setText] = useState(value);
  const [error, setError] = useState<string | null>(null);
  useEffect(() => {
    setText(value);
    setError(null);
  }, [value]);
  const commit = (): void => setError(text === value ? null : onValue(text));
  return (
    <Field label={label} help={help} error={error}>
      {(id, described) => (
        <input
          id={id}
          className={`${mono ? 'num ' : ''}${inputLook}`}
          value={text}
          aria-describedby={described}
          aria-invalid={error !== null}
          autoComplete="off"
          spellCheck={false}
          onChange={(e) => setText(e.target.value)}
          onBlur={commit}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Enter') commit();
            if (e.key === 'Escape') setText(value);
          }}
        />
      )}
    </Field>
  );
}

interface SelectProps {
  label: string;
  help: string;
  value: string;
  options: { value: string; label: string }[];
  onValue: (value: string) => void;
}

export function Select({ label, help, value, options, onValue }: SelectProps): ReactNode {
  return (
    <Field label={label} help={help}>
      {(id) => (
        <RadixSelect.Root value={value} onValueChange={onValue}>
          <RadixSelect.Trigger id={id} className={`flex items-center justify-between text-left ${inputLook}`}>
            <span className="min-w-0 truncate">
              <RadixSelect.Value />
            </span>
            <ChevronDown size={14} aria-hidden className="shrink-0 text-graphite" />
          </RadixSelect.Trigger>
          <RadixSelect.Portal>
            <RadixSelect.Content
              position="popper"
              className="z-50 max-h-[var(--radix-select-content-available-height)] min-w-40 overflow-hidden rounded-sm border border-graphite bg-chalk"
            >
              <RadixSelect.Viewport nonce={styleNonce}>
                {options.map((o) => (
                  <RadixSelect.Item
                    key={o.value}
                    value={o.value}
                    className="flex cursor-default items-center justify-between gap-4 px-3 py-1.5 data-[highlighted]:bg-paper"
                  >
                    <RadixSelect.ItemText>{o.label}</RadixSelect.ItemText>
                    <RadixSelect.ItemIndicator>
                      <Check size={14} aria-hidden />
                    </RadixSelect.ItemIndicator>
                  </RadixSelect.Item>
                ))}
              </RadixSelect.Viewport>
            </RadixSelect.Content>
          </RadixSelect.Portal>
        </RadixSelect.Root>
      )}
    </Field>
  );
}

interface CheckboxProps {
  label: string;
  help?: string;
  checked: boolean;
  onChecked: (checked: boolean) => void;
}

export function Checkbox({ label, help, checked, onChecked }: CheckboxProps): ReactNode {
  return (
    <label className="flex items-center gap-2 py-0.5" title={help}>
      <input type="checkbox" className="size-4 accent-madder" checked={checked} onChange={(e) => onChecked(e.target.checked)} />
      {label}
    </label>
  );
}

/** Says what goes here and offers the one next step. */
export function EmptyState({ title, children }: { title: string; children: ReactNode }): ReactNode {
  return (
    <div className="flex h-full flex-col items-center justify-center gap-3 p-10 text-center">
      <p className="text-lg font-semibold">{title}</p>
      {children}
    </div>
  );
}

export function PageHeader({ title, facts, children }: { title: string; facts?: string; children?: ReactNode }): ReactNode {
  return (
    <header className="flex h-[53px] shrink-0 items-center gap-3 border-b border-rule px-[18px]">
      <h1 className="whitespace-nowrap text-lg font-semibold">{title}</h1>
      <p className="num min-w-0 truncate text-sm text-graphite">{facts}</p>
      <div className="ml-auto flex items-center gap-3">{children}</div>
    </header>
  );
}
