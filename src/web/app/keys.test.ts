import { describe, expect, it } from 'vitest';
import { keyName, formatShortcut, nameOfWords } from './keys.js';

const pressed = (key: string, more: object = {}) => ({ key, ctrlKey: false, metaKey: false, shiftKey: false, ...more });

describe('keys by name', () => {
  it.each([
    [pressed('f'), 'f', 'F'],
    [pressed('Enter', { ctrlKey: true }), 'ctrl+Enter', 'Ctrl Enter'],
    [pressed('z', { metaKey: true }), 'ctrl+z', 'Ctrl Z'],
    [pressed(' '), 'space', 'Space'],
    [pressed('ArrowUp', { shiftKey: true }), 'shift+ArrowUp', 'Shift ↑'],
    [pressed('?', { shiftKey: true }), '?', '?'],
  ])('%j', (event, name, words) => {
    expect(keyName(event)).toBe(name);
    expect(formatShortcut(name)).toBe(words);
    expect(nameOfWords(words)).toBe(name);
  });
});
