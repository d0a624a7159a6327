/** How the render on the easel is looked at: loupe, neighbours, mount, looking around, range of depth. */
import { Eye } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { DropdownMenu } from 'radix-ui';
import { useCommands } from '../../app/commands.js';
import { useKeys } from '../../app/keys.js';
import { MOUNT_TONES, type MountTone, setPreferences, usePreferences } from '../../app/preferences.js';
import { MENU_PANEL, MENU_ROW } from '../../ui/ActionItems.js';
import { PLAIN_BUTTON } from '../../ui/controls.js';
import type { CropView } from './useCrop.js';
import { HELP, LABELS, MOUNT_WORDS } from './words.js';

/** Neutral greys, as linear surroundings of 18 %, nearly none and nearly all. */
const TONES: Record<MountTone, string> = { grey: '#7b7b7b', dark: '#1a1a1a', light: '#e4e4e4' };

/** Helps to look at a render: loupe, neighbours, mount. */
export interface ViewTools {
  loupe: boolean;
  onion: boolean;
  around: boolean;
  /** Colour of the mount. */
  tone: string;
  button: ReactNode;
}

/** @param of what can be done with what is shown: neighbours of a moving shot, looking around in a panorama, cropping. */
export function useViewTools({
  moving,
  panorama,
  crop,
}: {
  moving: boolean;
  panorama: boolean;
  crop: Pick<CropView, 'open' | 'setOpen'>;
}): ViewTools {
  const [loupe, setLoupe] = useState(false);
  const [onion, setOnion] = useState(false);
  const [around, setAround] = useState(false);
  const { mount } = usePreferences();
  const toggleLoupe = (): void => setLoupe(!loupe);
  useKeys({ l: toggleLoupe });
  useCommands([{ name: LABELS.loupe, keys: 'L', run: toggleLoupe }]);
  const item = (label: string, on: boolean, set: (on: boolean) => void): ReactNode => (
    <DropdownMenu.CheckboxItem className={MENU_ROW} checked={on} onCheckedChange={set} onSelect={(e) => e.preventDefault()}>
      {label}
      <DropdownMenu.ItemIndicator>✓</DropdownMenu.ItemIndicator>
    </DropdownMenu.CheckboxItem>
  );
  return {
    loupe,
    onion: onion && moving,
    around: around && panorama,
    tone: TONES[mount],
    button: (
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className={PLAIN_BUTTON} aria-label={LABELS.viewTools} title={HELP.viewTools}>
          <Eye size={16} aria-hidden />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className={MENU_PANEL}>
            {item(LABELS.loupe, loupe, setLoupe)}
            {moving && item(LABELS.onion, onion, setOnion)}
            {panorama && item(LABELS.lookAround, around, setAround)}
            {item(LABELS.crop, crop.open, crop.setOpen)}
            <DropdownMenu.Separator className="my-1 border-t border-rule" />
            <DropdownMenu.RadioGroup value={mount} onValueChange={(tone) => setPreferences({ mount: tone as MountTone })}>
              {MOUNT_TONES.map((tone) => (
                <DropdownMenu.RadioItem key={tone} value={tone} className={MENU_ROW} onSelect={(e) => e.preventDefault()}>
                  {MOUNT_WORDS[tone]}
                  <DropdownMenu.ItemIndicator>✓</DropdownMenu.ItemIndicator>
                </DropdownMenu.RadioItem>
              ))}
            </DropdownMenu.RadioGroup>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    ),
  };
}
