import { toast } from 'sonner';

/** Says what was wrong with an edit; nothing where nothing was. */
export function toastProblem(problem: string | null): void {
  if (problem) toast.error(problem);
}
