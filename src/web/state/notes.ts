/** Notes on renders, as SWR keeps them. */
import useSWR, { mutate } from 'swr';
import type { NoteReply, PlacedNote } from '../../contract/notes.js';
import { get } from './api.js';

const inFrame = (batch: number, frame: number): string => `/batches/${batch}/frames/${frame}/notes`;

/** Notes as they stand in a frame; null asks for none. */
export const useFrameNotes = (of: { batch: number; frame: number } | null) => useSWR<PlacedNote[], Error>(of && inFrame(of.batch, of.frame), get);

/** All notes of a set, the newest first; null asks for none. */
export const useSetNotes = (set: number | null) => useSWR<NoteReply[], Error>(set === null ? null : `/sets/${set}/notes`, get);

/** Asks for the notes of a set anew, wherever they are shown. */
export async function refreshNotes(set: number): Promise<void> {
  await mutate((key) => typeof key === 'string' && (key === `/sets/${set}/notes` || /^\/batches\/\d+\/frames\/\d+\/notes$/.test(key)));
}
