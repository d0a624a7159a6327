/** What leaves Review: pages for others, the decision log, the wall on paper. */
import { type ReactNode, useState } from 'react';
import { Share2 } from 'lucide-react';
import { Dialog, DropdownMenu } from 'radix-ui';
import { MENU_PANEL, MENU_ROW } from '../../ui/ActionItems.js';
import { PLAIN_BUTTON } from '../../ui/controls.js';
import { lazily } from '../../ui/lazily.js';
import { usePrint } from '../../ui/usePrint.js';
import { LABELS } from './pageWords.js';
import type { ShownChoices } from './ReviewPages.js';

const ReviewPages = lazily(async () => (await import('./ReviewPages.js')).ReviewPages);

interface Props {
  setId: number;
  setName: string;
  /** Asked while the dialog is open. */
  choices: () => ShownChoices;
  /** The wall as it is printed. */
  wall: () => ReactNode;
}

/** Takes the wall elsewhere: sheets, tables, review pages, paper. */
export function ShareMenu({ setId, setName, choices, wall }: Props): ReactNode {
  const [open, setOpen] = useState(false);
  const { sheet, print } = usePrint();
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className={PLAIN_BUTTON}>
          <Share2 size={16} aria-hidden /> {LABELS.share}
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className={MENU_PANEL}>
            <DropdownMenu.Item className={MENU_ROW} onSelect={() => setOpen(true)}>
              {LABELS.reviewPagesMore}
            </DropdownMenu.Item>
            <DropdownMenu.Item className={MENU_ROW} onSelect={() => print(wall())}>
              {LABELS.printWall}
            </DropdownMenu.Item>
            <DropdownMenu.Item className={MENU_ROW} asChild>
              <a href={`/api/sets/${setId}/decisions?format=csv`} download>
                {LABELS.decisionLog}
              </a>
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {sheet}
      <Dialog.Root open={open} onOpenChange={setOpen}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/40" />
          <Dialog.Content className="fixed left-1/2 top-1/2 z-50 w-[860px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 border border-graphite bg-chalk p-5">
            <ReviewPages setId={setId} setName={setName} choices={choices()} />
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}
