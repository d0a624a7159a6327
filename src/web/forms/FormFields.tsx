/** Fields of an object's values from a table: label, help, unit and path of each are in one place. */
import type { ReactNode } from 'react';
import type { Setting } from '../../core/plan/noEffect.js';
import type { Quantity } from '../../core/units/field.js';
import { ColourField } from '../ui/ColourField.js';
import { Checkbox, NumberField, Select, TextField } from '../ui/controls.js';

interface FieldBase<T> {
  /** Path of the value, from the object down. */
  key: keyof T & string;
  label: string;
  help: string;
  /** Whether the field is there at all, by the values that it belongs to; always where it is not given. */
  when?: (values: T) => boolean;
  /** Classes of the cell that holds it. */
  className?: string;
}

/** A field for a number. */
export interface NumberSpec<T> extends FieldBase<T> {
  kind: 'number';
  /** What units and arithmetic mean: a plain number where it is not given. */
  quantity?: Quantity;
  unit?: string;
  step?: number;
  decimals?: number;
  /** The setting of the plan that it is, where that may have no effect. */
  setting?: Setting;
}

/** A field with a choice. */
export interface SelectSpec<T> extends FieldBase<T> {
  kind: 'select';
  options: readonly { value: string; label: string }[];
}

/** A field for words, for on and off, or for a colour. */
export interface PlainSpec<T> extends FieldBase<T> {
  kind: 'text' | 'checkbox' | 'colour';
}

/** Any field of a form. */
export type FieldSpec<T> = NumberSpec<T> | SelectSpec<T> | PlainSpec<T>;

/** A form over an object. */
export interface FormFieldsProps<T> {
  fields: readonly FieldSpec<T>[];
  values: T;
  /** Takes a changed value; returns what is wrong with it, or null. The schema behind it knows ranges. */
  put: (values: Partial<T>) => string | null;
}

function FormField<T extends object>({ field, values, put }: { field: FieldSpec<T> } & Omit<FormFieldsProps<T>, 'fields'>): ReactNode {
  const { key, label, help } = field;
  const value: unknown = values[key];
  const set = (next: unknown): string | null => put({ [key]: next } as Partial<T>);
  switch (field.kind) {
    case 'number': {
      const { quantity, unit, step, decimals, setting } = field;
      return (
        <NumberField
          label={label}
          help={help}
          value={value as number}
          onValue={set}
          {...(quantity && { quantity })}
          {...(unit !== undefined && { unit })}
          {...(step !== undefined && { step })}
          {...(decimals !== undefined && { decimals })}
          {...(setting !== undefined && { setting })}
        />
      );
    }
    case 'select':
      return <Select label={label} help={help} value={value as string} options={[...field.options]} onValue={set} />;
    case 'checkbox':
      return <Checkbox label={label} help={help} checked={value as boolean} onChecked={set} />;
    case 'colour':
      return <ColourField label={label} help={help} value={value as string} onValue={set} />;
    case 'text':
      return <TextField label={label} help={help} value={value as string} onValue={set} />;
  }
}

/** The fields one after another; whoever uses it lays them out. */
export function FormFields<T extends object>({ fields, values, put }: FormFieldsProps<T>): ReactNode {
  return fields
    .filter((f) => f.when?.(values) ?? true)
    .map((f) => (
      <div key={f.key} className={f.className ?? 'min-w-0'}>
        <FormField field={f} values={values} put={put} />
      </div>
    ));
}
