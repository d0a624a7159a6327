/** Our few own controls: buttons and fields with a label, a unit and a word of help. */
import { type ComponentProps, type ReactNode, useId } from 'react';
import { Select as RadixSelect } from 'radix-ui';
import { Check, ChevronDown } from 'lucide-react';
import { formatNumber, parseField, type Quantity } from '../../core/units/field.js';
import type { Setting } from '../../core/plan/noEffect.js';
import { Field, HelpTip } from './Field.js';
import { styleNonce } from './styleNonce.js';
import { useTypedText } from './useTypedText.js';

const BUTTON =
  'inline-flex h-[30px] shrink-0 items-center gap-1.5 whitespace-nowrap rounded-sm border px-3 font-medium disabled:cursor-not-allowed disabled:opacity-50';
const PLAIN = 'bg-chalk text-ink border-graphite';

/** The look of a plain button, for links and for what opens a menu. */
export const PLAIN_BUTTON = `${BUTTON} ${PLAIN}`;

type ButtonProps = ComponentProps<'button'> & { primary?: boolean };

/** A button; the primary one is the next step. */
export function Button({ primary = false, className = '', ...props }: ButtonProps): ReactNode {
  const look = primary ? 'bg-madder text-chalk border-madder' : PLAIN;
  return <button type="button" className={`${BUTTON} ${look} ${className}`} {...props} />;
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
  setting?: Setting;
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
  setting,
  onValue,
}: NumberFieldProps): ReactNode {
  const written = (n: number): string => formatNumber(n, decimals);
  const { error, input } = useTypedText({
    label,
    shown: written(value),
    take: (typed) => {
      try {
        const next = parseField(typed, quantity);
        const problem = onValue(next);
        return problem === null ? { text: written(next) } : { problem };
      } catch (e) {
        return { problem: (e as Error).message };
      }
    },
    step: (typed, e) => {
      // The value itself where nothing is typed: its text is rounded.
      const from = typed === written(value) ? value : parseField(typed, quantity);
      return String(from + step * (e.shiftKey ? 10 : 1) * (e.key === 'ArrowUp' ? 1 : -1));
    },
  });
  return (
    <Field label={label} help={help} error={error} setting={setting}>
      {(id, described) => (
        <span className="flex items-end">
          <input id={id} className={`num ${inputLook}`} disabled={disabled} aria-describedby={described} {...input} />
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
  /** What goes where nothing is written. */
  placeholder?: string;
  setting?: Setting;
  onValue: (value: string) => string | null;
}

/** A field for words, taken on Enter and on leaving. */
export function TextField({ label, help, value, mono = false, placeholder, setting, onValue }: TextFieldProps): ReactNode {
  const { error, input } = useTypedText({
    label,
    shown: value,
    take: (typed) => {
      const problem = onValue(typed);
      return problem === null ? { text: typed } : { problem };
    },
  });
  return (
    <Field label={label} help={help} error={error} setting={setting}>
      {(id, described) => (
        <input
          id={id}
          className={`${mono ? 'num ' : ''}placeholder:text-graphite ${inputLook}`}
          placeholder={placeholder}
          aria-describedby={described}
          spellCheck={false}
          {...input}
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
  setting?: Setting;
  onValue: (value: string) => void;
}

/** A choice of several. */
export function Select({ label, help, value, options, setting, onValue }: SelectProps): ReactNode {
  return (
    <Field label={label} help={help} setting={setting}>
      {(id, described) => (
        <RadixSelect.Root value={value} onValueChange={onValue}>
          <RadixSelect.Trigger id={id} aria-describedby={described} className={`flex items-center justify-between text-left ${inputLook}`}>
            <span className="min-w-0 truncate">
              <RadixSelect.Value placeholder="–" />
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

/** On or off. */
export function Checkbox({ label, help, checked, onChecked }: CheckboxProps): ReactNode {
  const id = useId();
  return (
    <HelpTip help={help}>
      <div>
        <label className="flex items-center gap-2 py-0.5">
          <input
            type="checkbox"
            className="size-4 accent-madder"
            checked={checked}
            aria-describedby={help ? `${id}-h` : undefined}
            onChange={(e) => onChecked(e.target.checked)}
          />
          {label}
        </label>
        {help && (
          <span id={`${id}-h`} hidden>
            {help}
          </span>
        )}
      </div>
    </HelpTip>
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

/** Title of a step, its facts and its buttons. */
export function PageHeader({ title, facts, children }: { title: string; facts?: string; children?: ReactNode }): ReactNode {
  return (
    <header className="flex h-[53px] shrink-0 items-center gap-3 border-b border-rule px-[18px] max-[900px]:h-auto max-[900px]:min-h-[53px] max-[900px]:flex-wrap max-[900px]:gap-y-1 max-[900px]:py-1.5">
      <h1 className="whitespace-nowrap text-lg font-semibold">{title}</h1>
      <p className="num min-w-0 truncate text-sm text-graphite">{facts}</p>
      <div className="ml-auto flex items-center gap-3 max-[900px]:ml-0 max-[900px]:flex-wrap max-[900px]:gap-y-1">{children}</div>
    </header>
  );
}
