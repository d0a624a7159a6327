/** Where the files of a batch are, and what can be done with them. */
import type { ReactNode } from 'react';
import type { BatchReply } from '../../../contract/batches.js';
import type { VerifyReply } from '../../../contract/contract.js';
import { send } from '../../state/api.js';
import { toast } from '../../state/toast.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Where the batch's files are, to be opened or copied. */
export function FolderLine({ batch, over }: { batch: BatchReply; over: boolean }): ReactNode {
  const copyPath = (): void => {
    navigator.clipboard.writeText(batch.folder).then(
      () => toast(MESSAGES.pathCopied),
      (e: Error) => toastProblem(e.message),
    );
  };
  const openFolder = (): void => void send('POST', `/batches/${batch.id}/open-folder`).catch((e: Error) => toastProblem(e.message));
  /** Reads every finished file and compares it with what was written. */
  const verify = (): void => {
    send<VerifyReply>('POST', `/batches/${batch.id}/verify`)
      .then(({ files, missing, changed }) =>
        missing + changed === 0 ? toast(MESSAGES.allFilesAreIntact(files)) : toast.error(MESSAGES.ofFilesAreMissing(files, missing, changed)),
      )
      .catch((e: Error) => toastProblem(e.message));
  };
  return (
    <>
      <p className="font-head text-xs font-medium text-graphite">{LABELS.folder}</p>
      <p className="num break-all text-xs">{batch.folder}</p>
      <div className="mt-2 flex flex-wrap gap-2">
        {batch.done > 0 && (
          <Button title={HELP.openFolder} onClick={openFolder}>
            {LABELS.openFolder}
          </Button>
        )}
        <Button onClick={copyPath}>{LABELS.copyPath}</Button>
        {over && batch.done > 0 && (
          <Button title={HELP.readsEveryFinishedFile} onClick={verify}>
            {LABELS.checkFiles}
          </Button>
        )}
        <a
          className="inline-flex h-[30px] items-center text-cobalt underline"
          href={`/api/batches/${batch.id}/report.html`}
          title={HELP.report}
          download
        >
          {LABELS.report}
        </a>
      </div>
    </>
  );
}
