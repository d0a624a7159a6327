// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { useState, type ReactNode } from 'react';
import { describe, expect, it } from 'vitest';
import * as z from 'zod';
import { show } from '../../../tests/support/render.js';
import { fieldProblem } from '../../core/base/issues.js';
import { type FieldSpec, FormFields } from './FormFields.js';

const schema = z.strictObject({ samples: z.int().min(1).max(64), denoise: z.boolean(), strength: z.number().min(0).max(1), colour: z.string() });
type Values = z.infer<typeof schema>;

const FIELDS: readonly FieldSpec<Values>[] = [
  { key: 'samples', kind: 'number', label: 'Samples', help: 'Per pixel.', decimals: 0 },
  { key: 'denoise', kind: 'checkbox', label: 'Denoise', help: 'Removes noise.' },
  { key: 'strength', kind: 'number', label: 'Strength', help: '0 to 1.', when: (v) => v.denoise },
  { key: 'colour', kind: 'colour', label: 'Colour', help: 'As #rrggbb.' },
];

let latest: Values;
function Form(): ReactNode {
  const [values, setValues] = useState<Values>({ samples: 16, denoise: false, strength: 0.5, colour: '#112233' });
  latest = values;
  const put = (change: Partial<Values>): string | null => {
    const read = schema.safeParse({ ...values, ...change });
    if (!read.success) return fieldProblem(read.error);
    setValues(read.data);
    return null;
  };
  return <FormFields fields={FIELDS} values={values} put={put} />;
}

describe('fields from a table', () => {
  it('change the value at their path alone', async () => {
    const person = show(<Form />);
    await person.clear(screen.getByLabelText('Samples'));
    await person.type(screen.getByLabelText('Samples'), '8*4{Enter}');
    expect(latest).toEqual({ samples: 32, denoise: false, strength: 0.5, colour: '#112233' });
    await person.clear(screen.getByLabelText('Colour'));
    await person.type(screen.getByLabelText('Colour'), '#ff0000{Enter}');
    expect(latest.colour).toBe('#ff0000');
  });

  it('say what the schema says, in place', async () => {
    const person = show(<Form />);
    await person.clear(screen.getByLabelText('Samples'));
    await person.type(screen.getByLabelText('Samples'), '65{Enter}');
    expect(screen.getByRole('alert').textContent).toMatch(/at most 64/i);
    expect(latest.samples).toBe(16);
  });

  it('are there where their values ask for them', async () => {
    const person = show(<Form />);
    expect(screen.queryByLabelText('Strength')).toBeNull();
    await person.click(screen.getByLabelText('Denoise'));
    expect(screen.getByLabelText<HTMLInputElement>('Strength').value).toBe('0.5');
  });
});
