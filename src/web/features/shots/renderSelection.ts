/** Which frames the next batch renders, for editors that choose some. */
import { createContext, useContext } from 'react';

/** Chooses frames of one shot, in its own numbers, and none of the others. */
export const RenderSelectionContext = createContext<(shot: string, frames: string) => void>(() => undefined);

/** Selects frames of a shot to be rendered. */
export const useRenderSelection = (): ((shot: string, frames: string) => void) => useContext(RenderSelectionContext);
