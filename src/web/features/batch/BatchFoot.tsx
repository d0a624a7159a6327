import type { ReactNode } from 'react';
import { Link } from 'react-router';
import type { BatchReply } from '../../../contract/batches.js';
import { setPreferences, usePreferences } from '../../app/preferences.js';
import { toast } from '../../state/toast.js';
import { Checkbox, Select } from '../../ui/controls.js';
import { FolderLine } from './FolderLine.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Asked in place: a browser that was asked at first sight says no for ever. */
async function askForNotices(on: boolean): Promise<void> {
  if (on && typeof Notification !== 'undefined' && (await Notification.requestPermission()) !== 'granted') toast.error(MESSAGES.noNotices);
  setPreferences({ notices: on });
}

/** Another batch of the set, where its files are, and whether its end is told. */
export function BatchFoot(props: { batch: BatchReply; batches: BatchReply[]; open: boolean; onChoose(id: string): void }): ReactNode {
  const { batch, batches, open, onChoose } = props;
  const { notices: notify, noticeSound: sound } = usePreferences();
  return (
    <div className="mt-auto border-t border-rule px-4 py-3 text-sm">
      <Select
        label={LABELS.batch}
        help={HELP.batch}
        value={String(batch.id)}
        options={batches.map((b) => ({ value: String(b.id), label: `${b.number} ${b.name}, ${b.state}` }))}
        onValue={onChoose}
      />
      <FolderLine batch={batch} over={!open} />
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Link to="/queue" className="text-cobalt underline">
          {LABELS.queue}
        </Link>
        <Checkbox label={LABELS.notify} help={HELP.notify} checked={notify} onChecked={(on) => void askForNotices(on)} />
        {notify && <Checkbox label={LABELS.sound} help={HELP.sound} checked={sound} onChecked={(on) => setPreferences({ noticeSound: on })} />}
      </div>
    </div>
  );
}
