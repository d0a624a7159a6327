/** The panel beside the render: notes or grade. There is room for one, and it stays from one render to the next. */
import { useState } from 'react';

/** Panels beside the render, of which one is open at a time. */
export type PanelName = 'notes' | 'grade';

/** Whether a panel is shown, and how that is changed. */
export interface PanelOpen {
  open: boolean;
  setOpen: (open: boolean) => void;
}

/** Which panel is open. */
export function usePanel(): (name: PanelName) => PanelOpen {
  const [shown, setShown] = useState<PanelName | null>(null);
  return (name) => ({ open: shown === name, setOpen: (open) => setShown(open ? name : null) });
}
