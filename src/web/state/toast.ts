/** Short messages at the page's edge. What shows them is fetched after the page; what is said before waits for it. */
import type { ExternalToast } from 'sonner';

type Show = (message: string, options?: ExternalToast) => unknown;
/** What shows messages, once it is there. */
export type Toasts = Show & Record<'error' | 'info', Show>;

let ready: (toasts: Toasts) => void;
const shown = new Promise<Toasts>((resolve) => {
  ready = resolve;
});

/** Says that messages can be shown from now on. */
export const showToastsBy = (toasts: Toasts): void => ready(toasts);

/** Shows a message: a plain one, or what went wrong by `error`. One with the `id` of another takes its place. */
export const toast = Object.assign((message: string, options?: ExternalToast): void => void shown.then((by) => by(message, options)), {
  error: (message: string, options?: ExternalToast): void => void shown.then((by) => by.error(message, options)),
  info: (message: string, options?: ExternalToast): void => void shown.then((by) => by.info(message, options)),
});
