/** What a person prefers on this machine: kept by the browser, followed by every open page. */
import { useSyncExternalStore } from 'react';
import { DEFAULT_FIT_MARGIN } from '../../core/camera/margin.js';
import { DEFAULT_FIRST_FRAMES, MAX_FIRST_FRAMES } from '../../core/plan/firstFrames.js';

/** What is drawn over the output frame. */
export interface GuideChoice {
  thirds: boolean;
  centre: boolean;
  safe: boolean;
  /** What lies outside the frame is seen. */
  outside: boolean;
}

/** What a render is judged against. */
export const MOUNT_TONES = ['grey', 'dark', 'light'] as const;
/** One of {@link MOUNT_TONES}. */
export type MountTone = (typeof MOUNT_TONES)[number];

/** What a person has chosen for this browser. */
export interface Preferences {
  theme: 'day' | 'night';
  /** Keys without Ctrl do something (WCAG 2.1.4 asks that they can be turned off). */
  singleKeys: boolean;
  guides: GuideChoice;
  /** Share of the frame that a fit leaves free at each edge, 0 to 0.4. */
  fitMargin: number;
  /** Whether the format sheet shows its fields. */
  sheetOpen: boolean;
  /** Steps whose first hint was put away. */
  seenHints: string[];
  /** Frames of each moving shot that a batch renders first, 0 to 100. */
  firstFrames: number;
  /** Batches wait for a word once those are done. */
  holdAfterFirst: boolean;
  /** The browser tells when a batch ends or is held; with a sound where that is wanted too. */
  notices: boolean;
  noticeSound: boolean;
  /** Name that decisions and notes carry; empty where nobody gave one. */
  author: string;
  /** Grey behind renders in Review. */
  mount: MountTone;
  /** Custom keys by the command's name. */
  keys: Record<string, string>;
}

const NAME = 'cold-easel preferences';
const NO_GUIDES: GuideChoice = { thirds: false, centre: false, safe: false, outside: false };
const PLAIN: Preferences = {
  theme: 'day',
  singleKeys: true,
  guides: NO_GUIDES,
  sheetOpen: false,
  fitMargin: DEFAULT_FIT_MARGIN,
  seenHints: [],
  firstFrames: DEFAULT_FIRST_FRAMES,
  holdAfterFirst: false,
  notices: false,
  noticeSound: false,
  author: '',
  mount: 'grey',
  keys: {},
};
const listeners = new Set<() => void>();
let current: Preferences = read();

function read(): Preferences {
  try {
    const kept = JSON.parse(localStorage.getItem(NAME) ?? '{}') as Partial<Preferences>;
    return {
      theme: kept.theme === 'night' ? 'night' : 'day',
      singleKeys: kept.singleKeys !== false,
      guides: { ...NO_GUIDES, ...kept.guides },
      sheetOpen: kept.sheetOpen === true,
      fitMargin: typeof kept.fitMargin === 'number' && kept.fitMargin >= 0 && kept.fitMargin <= 0.4 ? kept.fitMargin : DEFAULT_FIT_MARGIN,
      seenHints: Array.isArray(kept.seenHints) ? kept.seenHints.filter((id) => typeof id === 'string') : [],
      firstFrames:
        typeof kept.firstFrames === 'number' && Number.isInteger(kept.firstFrames) && kept.firstFrames >= 0 && kept.firstFrames <= MAX_FIRST_FRAMES
          ? kept.firstFrames
          : DEFAULT_FIRST_FRAMES,
      holdAfterFirst: kept.holdAfterFirst === true,
      notices: kept.notices === true,
      noticeSound: kept.noticeSound === true,
      author: typeof kept.author === 'string' ? kept.author : '',
      mount: MOUNT_TONES.find((m) => m === kept.mount) ?? 'grey',
      keys: { ...kept.keys },
    };
  } catch {
    // No storage, or something else in it: nothing is preferred.
    return PLAIN;
  }
}

function show(): void {
  document.documentElement.dataset.theme = current.theme;
  for (const tell of listeners) tell();
}

/** Reads what is kept, and follows what other pages change. To be called once. */
export function startPreferences(): void {
  show();
  window.addEventListener('storage', (e) => {
    if (e.key !== NAME) return;
    current = read();
    show();
  });
}

/** The preferences as they are now. */
export function preferences(): Preferences {
  return current;
}

/** Changes some of them, and keeps them in the browser's storage. */
export function setPreferences(values: Partial<Preferences>): void {
  current = { ...current, ...values };
  try {
    localStorage.setItem(NAME, JSON.stringify(current));
  } catch {
    // It holds for this page alone.
  }
  show();
}

/** The preferences; draws anew when they change. */
export function usePreferences(): Preferences {
  return useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, preferences);
}
