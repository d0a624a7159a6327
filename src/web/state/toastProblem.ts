import { toast } from './toast.js';

/** Says what was wrong with an edit, once for however many ask; nothing where nothing was. */
export function toastProblem(problem: string | null): void {
  if (problem) toast.error(problem, { id: problem });
}
