// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { useState, type ReactNode } from 'react';
import { describe, expect, it } from 'vitest';
import { show } from '../../../tests/support/render.js';
import { Checkbox, NumberField, TextField } from './controls.js';

/** A length from 0 to 10 m that starts at 1. */
function Length({ onTaken }: { onTaken: (value: number) => void }): ReactNode {
  const [value, setValue] = useState(1);
  const take = (next: number): string | null => {
    if (next < 0 || next > 10) return 'Write 0 to 10.';
    onTaken(next);
    setValue(next);
    return null;
  };
  return <NumberField label="Length" help="Metres, 0 to 10." value={value} quantity="length" unit="m" step={0.5} onValue={take} />;
}

describe('a number field', () => {
  const field = (): HTMLInputElement => screen.getByLabelText<HTMLInputElement>('Length');
  const shown = () => {
    const taken: number[] = [];
    return { taken, person: show(<Length onTaken={(v) => taken.push(v)} />) };
  };

  it.each([
    ['40 cm', 0.4],
    ['2*3', 6],
    ['1/4', 0.25],
    ['6 ft 2 in', 1.8796],
  ])('takes %s', async (text, value) => {
    const { taken, person } = shown();
    await person.clear(field());
    await person.type(field(), `${text}{Enter}`);
    expect(taken).toEqual([expect.closeTo(value, 6)]);
    expect(field().value).toBe(String(Math.round(value * 1000) / 1000));
    expect(field().getAttribute('aria-invalid')).toBe('false');
  });

  it.each([
    ['4 apples', '"apples" is not a unit here'],
    ['3 +', 'ends early'],
    ['11', 'Write 0 to 10.'],
  ])('says in place what is wrong with %s, and takes nothing', async (text, problem) => {
    const { taken, person } = shown();
    await person.clear(field());
    await person.type(field(), `${text}{Enter}`);
    const alert = screen.getByRole('alert');
    expect(alert.textContent).toContain(problem);
    expect([field().getAttribute('aria-invalid'), field().getAttribute('aria-describedby')]).toEqual(['true', alert.id]);
    expect(taken).toEqual([]);
    // Escape takes back what was typed.
    await person.keyboard('{Escape}');
    expect(field().value).toBe('1');
  });

  it('is taken when the field is left, and only where it was changed', async () => {
    const { taken, person } = shown();
    await person.click(field());
    await person.tab();
    expect(taken).toEqual([]);
    await person.clear(field());
    await person.type(field(), '3');
    await person.tab();
    expect(taken).toEqual([3]);
  });

  it('steps with the arrow keys, ten times as far with Shift', async () => {
    const { taken, person } = shown();
    await person.click(field());
    await person.keyboard('{ArrowUp}{ArrowUp}{ArrowDown}{Shift>}{ArrowUp}{/Shift}');
    expect(taken).toEqual([1.5, 2, 1.5, 6.5]);
  });
});

describe('a text field', () => {
  it('says what is wrong, and keeps what was typed until it is right', async () => {
    const person = show(<TextField label="Name" help="A name." value="a" onValue={(text) => (text === '' ? 'Give it a name.' : null)} />);
    const field = screen.getByLabelText<HTMLInputElement>('Name');
    await person.clear(field);
    await person.tab();
    expect(screen.getByRole('alert').textContent).toBe('Give it a name.');
    await person.type(field, 'b{Enter}');
    expect(screen.queryByRole('alert')).toBeNull();
  });
});

describe('a checkbox', () => {
  it('is switched by its label and by the space bar', async () => {
    const heard: boolean[] = [];
    const person = show(<Checkbox label="Denoise" checked={false} onChecked={(on) => heard.push(on)} />);
    await person.click(screen.getByText('Denoise'));
    screen.getByRole('checkbox').focus();
    await person.keyboard(' ');
    expect(heard).toEqual([true, true]);
  });
});
