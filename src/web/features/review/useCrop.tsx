/** A part of the render, by pixels: drawn or typed, its proportions kept, copied or saved as PNG. */
import { type PointerEvent, type ReactNode, useState } from 'react';
import { type Box, cropBetween, fitCrop, parseProportion } from '../../../core/review/crop.js';
import { toast } from '../../state/toast.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, NumberField, TextField } from '../../ui/controls.js';
import { copyPicture, croppedPng } from '../../ui/copyPicture.js';
import { saveBlob } from '../../ui/saveText.js';
import type { Extent, Placed } from './useZoom.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** A crop that is drawn or typed, and saved as an image. */
export interface CropView {
  overlay: (placed: Placed, picture: Extent) => ReactNode;
  panel: ReactNode;
  open: boolean;
  setOpen: (open: boolean) => void;
}

/** The frame that is drawn over the render; what lies outside is dimmed. */
function CropSheet({
  placed,
  picture,
  box,
  ratio,
  onBox,
}: {
  placed: Placed;
  picture: Extent;
  box: Box | null;
  ratio: number | null;
  onBox: (box: Box) => void;
}): ReactNode {
  const [from, setFrom] = useState<[number, number] | null>(null);
  const at = (e: PointerEvent): [number, number] => {
    const { left, top, width, height } = e.currentTarget.getBoundingClientRect();
    return [((e.clientX - left) / width) * picture.width, ((e.clientY - top) / height) * picture.height];
  };
  const { left, top, width, height } = placed;
  return (
    <div
      className="absolute cursor-crosshair touch-none overflow-hidden"
      style={{ left, top, width, height }}
      data-testid="crop-sheet"
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        setFrom(at(e));
      }}
      onPointerMove={(e) => {
        e.stopPropagation();
        if (from && e.buttons === 1) onBox(cropBetween(from, at(e), picture, ratio));
      }}
      onPointerUp={(e) => {
        e.stopPropagation();
        setFrom(null);
      }}
    >
      {box && (
        <span
          className="absolute outline outline-[9999px] outline-[#15202a]/60"
          data-testid="crop-box"
          style={{
            left: `${(100 * box.x) / picture.width}%`,
            top: `${(100 * box.y) / picture.height}%`,
            width: `${(100 * box.width) / picture.width}%`,
            height: `${(100 * box.height) / picture.height}%`,
          }}
        >
          <span className="absolute inset-0 border border-white" />
        </span>
      )}
    </div>
  );
}

/** @param url of the render. @param name of files that are saved. @param picture size in pixels, where it is known. */
export function useCrop(url: string, name: string, picture: Extent | null): CropView {
  const [open, setOpen] = useState(false);
  const [box, setBox] = useState<Box | null>(null);
  const [proportion, setProportion] = useState('');
  const ratio = parseProportion(proportion);
  const put = (change: Partial<Box>): string | null => {
    if (!picture) return null;
    const whole: Box = box ?? { x: 0, y: 0, ...picture };
    const next = fitCrop({ ...whole, ...change }, picture, ratio, 'height' in change);
    if (!next) return MESSAGES.cropOutside(picture.width, picture.height);
    setBox(next);
    return null;
  };
  const act = (what: Promise<void>): void => void what.catch((e: Error) => toastProblem(e.message));
  const copy = async (): Promise<void> => {
    await copyPicture(url, box!);
    toast(MESSAGES.copied(name));
  };
  const save = async (): Promise<void> => saveBlob(`${name.split('/').at(-1)!} ${box!.width}x${box!.height}.png`, await croppedPng(url, box!));
  const shown = box ?? { x: 0, y: 0, width: picture?.width ?? 0, height: picture?.height ?? 0 };
  const field = (key: keyof Box, label: string): ReactNode => (
    <NumberField label={label} help={HELP.cropField} value={shown[key]} unit="px" decimals={0} onValue={(v) => put({ [key]: Math.round(v) })} />
  );
  return {
    overlay: (placed, size) => open && <CropSheet placed={placed} picture={size} box={box} ratio={ratio} onBox={setBox} />,
    open,
    setOpen,
    panel: open && (
      <section aria-label={LABELS.crop} className="flex w-56 shrink-0 flex-col gap-3 overflow-auto border-l border-rule bg-chalk p-3">
        <div className="grid grid-cols-2 gap-3">
          {field('x', LABELS.cropLeft)}
          {field('y', LABELS.cropTop)}
          {field('width', LABELS.cropWidth)}
          {field('height', LABELS.cropHeight)}
        </div>
        <TextField
          label={LABELS.proportion}
          help={HELP.proportion}
          value={proportion}
          onValue={(text) => {
            if (text.trim() !== '' && parseProportion(text) === null) return MESSAGES.proportionWrong;
            setProportion(text.trim());
            const next = picture && box ? fitCrop(box, picture, parseProportion(text), false) : null;
            if (next) setBox(next);
            return null;
          }}
        />
        <Button disabled={!box} onClick={() => act(copy())}>
          {LABELS.copyCrop}
        </Button>
        <Button disabled={!box} onClick={() => act(save())}>
          {LABELS.saveCrop}
        </Button>
        <p className="text-xs text-graphite">{MESSAGES.cropHow}</p>
      </section>
    ),
  };
}
