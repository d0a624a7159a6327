/** Where short messages appear. */
import { type ReactNode, useEffect } from 'react';
import { toast, Toaster } from 'sonner';
import { showToastsBy } from '../state/toast.js';
import 'sonner/dist/styles.css';

/** Shows what happened, for some seconds. */
export function ToastHost(): ReactNode {
  useEffect(() => showToastsBy(toast), []);
  return <Toaster position="bottom-left" toastOptions={{ style: { borderRadius: 2, fontFamily: 'Barlow', fontSize: 14 } }} />;
}
