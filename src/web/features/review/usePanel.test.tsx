// @vitest-environment happy-dom
import { act, renderHook } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { usePanel } from './usePanel.js';

describe('the panel beside the render', () => {
  it('is one at a time', () => {
    const { result } = renderHook(() => usePanel());
    const shown = (): string[] => (['notes', 'grade'] as const).filter((name) => result.current(name).open);
    expect(shown()).toEqual([]);
    act(() => result.current('notes').setOpen(true));
    expect(shown()).toEqual(['notes']);
    act(() => result.current('grade').setOpen(true));
    expect(shown()).toEqual(['grade']);
    act(() => result.current('grade').setOpen(false));
    expect(shown()).toEqual([]);
  });
});
