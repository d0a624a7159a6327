/** The other side of taskProcess.ts: takes tasks one after another until its host is gone. */
import { ModelError } from '../../formats/format.js';
import type { FromTask } from './taskProcess.js';

/** Runs `work` for each task; a ModelError is a finding about the input, all else ends the process. */
export function serveTasks<Task, Done>(work: (task: Task, progress: (share: number, what: string) => void) => Promise<Done>): void {
  const send = (message: FromTask<Done>): Promise<void> => new Promise((resolve) => process.send!(message, undefined, undefined, () => resolve()));
  // A host that dies leaves no process behind.
  process.on('disconnect', () => process.exit(0));
  process.on('message', (task: Task) => {
    void work(task, (share, what) => void send({ type: 'progress', share, what })).then(
      (result) => send({ type: 'done', result }),
      (e: unknown) => send(e instanceof ModelError ? { type: 'fault', message: e.message } : { type: 'crash', message: String(e) }),
    );
  });
}
