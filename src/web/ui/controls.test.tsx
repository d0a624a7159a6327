// @vitest-environment happy-dom
import { screen } from '@testing-library/react';
import { useState, type ReactNode } from 'react';
import { describe, expect, it } from 'vitest';
import { show, showAgain } from '../../../tests/support/render.js';
import { isTakenByFocus } from '../app/keys.js';
import { commitFields } from '../state/pendingFields.js';
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
    expect(field().getAttribute('aria-invalid')).toBe('true');
    expect(field().getAttribute('aria-describedby')!.split(' ')).toContain(alert.id);
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

  it('steps from what is typed, not from what stood there before', async () => {
    const { taken, person } = shown();
    await person.clear(field());
    await person.type(field(), '4{ArrowUp}');
    expect(taken).toEqual([4.5]);
    await person.type(field(), '!{ArrowUp}');
    expect(screen.getByRole('alert').textContent).not.toBe('');
    expect(taken).toEqual([4.5]);
  });

  it('is described by its help, which is also shown beside it on hover and on focus', async () => {
    const { person } = shown();
    const described = field().getAttribute('aria-describedby')!.split(' ');
    expect(described.map((id) => document.getElementById(id)?.textContent)).toContain('Metres, 0 to 10.');
    expect(screen.queryByRole('tooltip')).toBeNull();
    await person.tab();
    expect(document.activeElement).toBe(field());
    expect((await screen.findByRole('tooltip')).textContent).toBe('Metres, 0 to 10.');
    await person.keyboard('{Escape}');
    expect(screen.queryByRole('tooltip')).toBeNull();
    await person.unhover(field());
    await person.hover(field());
    expect((await screen.findByRole('tooltip', {}, { timeout: 2000 })).textContent).toBe('Metres, 0 to 10.');
  });

  it('gives what is typed to whoever acts on the plan, or says why it cannot', async () => {
    const { taken, person } = shown();
    await person.clear(field());
    await person.type(field(), '7');
    expect([taken, commitFields(), taken]).toEqual([[7], null, [7]]);
    await person.clear(field());
    await person.type(field(), '70');
    expect(commitFields()).toEqual({ label: 'Length', problem: 'Write 0 to 10.' });
    // Leaving it changes nothing about that.
    await person.tab();
    expect(commitFields()).toEqual({ label: 'Length', problem: 'Write 0 to 10.' });
    await person.type(field(), '{Escape}');
    expect(commitFields()).toBeNull();
    expect(taken).toEqual([7]);
  });

  it('keeps what is being typed when its value changes elsewhere', async () => {
    const parent = (value: number) => <NumberField label="Length" help="Metres." value={value} onValue={() => null} />;
    const { person, again } = showAgain(parent(1));
    await person.clear(field());
    await person.type(field(), '42');
    again(parent(2));
    expect(field().value).toBe('42');
    await person.keyboard('{Escape}');
    expect(field().value).toBe('2');
  });

  it('lets undo through to the plan unless something is half typed', async () => {
    const heard: string[] = [];
    const hear = (e: KeyboardEvent): void => void heard.push(e.key);
    window.addEventListener('keydown', hear);
    const { person } = shown();
    await person.click(field());
    await person.keyboard('{Control>}z{/Control}');
    expect(heard).toContain('z');
    expect([isTakenByFocus(field(), 'ctrl+z'), isTakenByFocus(field(), 'z'), isTakenByFocus(field(), 'ctrl+Enter')]).toEqual([false, true, false]);
    heard.length = 0;
    await person.keyboard('5{Control>}z{/Control}');
    expect(heard).not.toContain('z');
    expect(isTakenByFocus(field(), 'ctrl+z')).toBe(true);
    window.removeEventListener('keydown', hear);
  });
});

describe('keys that what has the focus takes itself', () => {
  it.each([
    ['<input type="checkbox">', 'space', true],
    ['<details><summary tabindex="0">More</summary></details>', 'space', true],
    ['<button>Play</button>', 'space', true],
    ['<button role="combobox">Choose</button>', '4', true],
    ['<div role="menu"><div role="menuitem" tabindex="0">One</div></div>', '4', true],
    ['<button>Play</button>', '4', false],
    ['<div tabindex="0">Viewport</div>', 'space', false],
    ['<input>', 'ctrl+z', true],
  ])('%s, %s', (html, key, taken) => {
    document.body.innerHTML = html;
    const focused = document.querySelector('input, summary, [role=menuitem], button, div')!;
    expect(isTakenByFocus(focused, key)).toBe(taken);
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
