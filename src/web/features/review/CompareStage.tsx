/** Renders on their mounts: one, side by side, or one over another by wipe, blink, share or difference. */
import { type KeyboardEvent, type MouseEvent, type PointerEvent, type ReactNode, useEffect, useRef, useState } from 'react';
import { PixelMark, type PixelPlace } from '../../preview/AskedPixel.js';
import { DifferenceMap } from './DifferenceMap.js';
import type { DifferenceFigures } from '../../compare/differenceJob.js';
import type { EaselItem, Mode } from './easelItems.js';
import { Loupe } from './Loupe.js';
import { EaselPicture } from './EaselPicture.js';
import { PictureMount } from './PictureMount.js';
import { usePictureSizes } from './usePictureSize.js';
import type { Extent, Placed, ZoomState } from './useZoom.js';
import { HELP, LABELS } from './words.js';

/** How renders are laid over or beside each other. */
export interface CompareSettings {
  mode: Mode;
  /** Place of the wipe, 0..1 of the picture. */
  wipe: number;
  /** The wipe goes up and down. */
  upright: boolean;
  /** Changes a second of a blink. */
  rate: number;
  /** Share of the second render in an overlay, 0..1. */
  share: number;
  /** Place of the changed area that is looked at, or null. */
  area: number | null;
}

interface Props {
  items: EaselItem[];
  settings: CompareSettings;
  onSettings: (change: Partial<CompareSettings>) => void;
  zoom: ZoomState;
  figures: DifferenceFigures | null;
  alt: string;
  pixel: PixelPlace | null;
  onPick: (at: PixelPlace) => void;
  onContextMenu: (e: MouseEvent) => void;
  /** What stands over the first render: notes, a crop, names. */
  overlay: (over: Over) => ReactNode;
  /** A decoded render by its address, which is shown at once. */
  decoded: (url: string) => ImageBitmap | undefined;
  /** Whether the pixels under the pointer are enlarged; and whether the overlay wants to know where it is. */
  loupe: boolean;
  hovers: boolean;
  /** Addresses of the frames before and after, where they shine through. */
  neighbours: readonly string[];
}

/** Where the first render is, its size in pixels, and the place under the pointer. */
export interface Over {
  placed: Placed;
  picture: Extent;
  hover: { x: number; y: number } | null;
}

/** How much of a neighbour shines through. */
const ONION_SHARE = 0.3;

function Tag({ item, right, alone }: { item: EaselItem; right?: boolean; alone?: boolean }): ReactNode {
  return (
    <span
      className={`plate num pointer-events-none absolute top-2 truncate px-1.5 text-sm ${alone ? 'max-w-[92%]' : 'max-w-[45%]'} ${right ? 'right-2' : 'left-2'}`}
    >
      {item.place} {item.label}
    </span>
  );
}

/** The line of a wipe, which is dragged or moved by the arrow keys. */
function WipeHandle({ placed, at, upright, onAt }: { placed: Placed; at: number; upright: boolean; onAt: (at: number) => void }): ReactNode {
  const line = useRef<HTMLDivElement>(null);
  const clamp = (v: number): number => Math.min(1, Math.max(0, v));
  const drag = (e: PointerEvent): void => {
    if (e.buttons !== 1) return;
    const box = line.current!.parentElement!.getBoundingClientRect();
    onAt(clamp(upright ? (e.clientY - box.top - placed.top) / placed.height : (e.clientX - box.left - placed.left) / placed.width));
  };
  const onKey = (e: KeyboardEvent): void => {
    const step = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[e.key];
    if (step === undefined) return;
    e.preventDefault();
    onAt(clamp(at + step * (e.shiftKey ? 0.1 : 0.01)));
  };
  const where = upright
    ? { top: placed.top + at * placed.height - 6, left: 0, right: 0, height: 12 }
    : { left: placed.left + at * placed.width - 6, top: 0, bottom: 0, width: 12 };
  return (
    <div
      ref={line}
      role="slider"
      tabIndex={0}
      aria-label={LABELS.wipePlace}
      aria-orientation={upright ? 'vertical' : 'horizontal'}
      aria-valuemin={0}
      aria-valuemax={100}
      aria-valuenow={Math.round(at * 100)}
      title={HELP.wipe}
      className={`absolute flex touch-none items-center justify-center ${upright ? 'cursor-ns-resize flex-col' : 'cursor-ew-resize'}`}
      style={where}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        drag(e);
      }}
      onPointerMove={drag}
      onKeyDown={onKey}
    >
      <span className={`border border-[#15202a] bg-white ${upright ? 'h-1 w-full' : 'h-full w-1'}`} />
    </div>
  );
}

/** Which of so many is shown, going round at that rate. */
function useBlink(on: boolean, count: number, rate: number): number {
  const [at, setAt] = useState(0);
  useEffect(() => {
    if (!on) return undefined;
    const timer = setInterval(() => setAt((n) => n + 1), 1000 / rate);
    return () => clearInterval(timer);
  }, [on, rate]);
  return on ? at % count : 0;
}

/** The renders that are compared, in one zoom. */
export function CompareStage({
  items,
  settings,
  onSettings,
  zoom,
  figures,
  alt,
  pixel,
  onPick,
  onContextMenu,
  overlay,
  decoded,
  loupe,
  hovers,
  neighbours,
}: Props): ReactNode {
  const { mode, wipe, upright, rate, share, area } = settings;
  const sizes = usePictureSizes(items.map((i) => i.url));
  const blink = useBlink(mode === 'blink', items.length, rate);
  const [first, second] = items as [EaselItem, EaselItem | undefined];
  const mark = (placed: Placed): ReactNode =>
    pixel && (
      <span className="pointer-events-none absolute" style={{ left: placed.left, top: placed.top, width: placed.width, height: placed.height }}>
        <PixelMark at={pixel} />
      </span>
    );
  const over = (placed: Placed, hover: Over['hover']): ReactNode => (
    <>
      {overlay({ placed, picture: sizes[0]!, hover })}
      {loupe && hover && <Loupe url={first.url} picture={sizes[0]!} placed={placed} at={hover} />}
    </>
  );
  const altOf = (item: EaselItem): string => (items.length > 1 ? `${alt}, ${item.label}` : alt);
  if (mode === 'side')
    return (
      <div
        className="grid min-h-0 flex-1 gap-[2px] bg-ink"
        style={{ gridTemplateColumns: `repeat(${items.length === 3 ? 3 : Math.min(2, items.length)}, minmax(0, 1fr))` }}
      >
        {items.map((item, i) => (
          <div key={item.key} className="relative flex min-h-0 min-w-0">
            <PictureMount
              picture={sizes[i] ?? null}
              zoom={zoom}
              label={LABELS.mountOf(item.place)}
              hovers={loupe || (hovers && i === 0)}
              onPick={i === 0 ? onPick : undefined}
              onContextMenu={i === 0 ? onContextMenu : undefined}
            >
              {(placed, hover) => (
                <>
                  <EaselPicture bitmap={decoded(item.url)} item={item} placed={placed} alt={altOf(item)} first={i === 0} />
                  {i === 0 && mark(placed)}
                  {i === 0 ? over(placed, hover) : loupe && hover && <Loupe url={item.url} picture={sizes[i]!} placed={placed} at={hover} />}
                </>
              )}
            </PictureMount>
            <Tag item={item} alone />
          </div>
        ))}
      </div>
    );
  const shown = mode === 'blink' ? items[blink]! : first;
  return (
    <div className="relative flex min-h-0 min-w-0 flex-1">
      <PictureMount
        picture={sizes[0] ?? null}
        zoom={zoom}
        label={LABELS.mount}
        hovers={loupe || hovers}
        onPick={onPick}
        onContextMenu={onContextMenu}
      >
        {(placed, hover) => (
          <>
            {mode === 'blink' ? (
              items.map((item, i) => (
                <EaselPicture
                  key={item.key}
                  bitmap={decoded(item.url)}
                  item={item}
                  placed={placed}
                  alt={altOf(item)}
                  first={i === 0}
                  opacity={i === blink ? 1 : 0}
                />
              ))
            ) : (
              <EaselPicture bitmap={decoded(first.url)} item={first} placed={placed} alt={altOf(first)} first />
            )}
            {second && mode === 'wipe' && (
              <>
                <EaselPicture
                  bitmap={decoded(second.url)}
                  item={second}
                  placed={placed}
                  alt={altOf(second)}
                  first={false}
                  clip={upright ? `inset(${100 * wipe}% 0 0 0)` : `inset(0 0 0 ${100 * wipe}%)`}
                />
                <WipeHandle placed={placed} at={wipe} upright={upright} onAt={(at) => onSettings({ wipe: at })} />
              </>
            )}
            {second && mode === 'overlay' && (
              <EaselPicture bitmap={decoded(second.url)} item={second} placed={placed} alt={altOf(second)} first={false} opacity={share} />
            )}
            {mode === 'difference' && figures && <DifferenceMap figures={figures} placed={placed} area={area} />}
            {mode === 'one' &&
              neighbours.map((url) => (
                <img
                  key={url}
                  src={url}
                  alt=""
                  data-testid="neighbour"
                  className="pointer-events-none absolute max-w-none select-none"
                  style={{ left: placed.left, top: placed.top, width: placed.width, height: placed.height, opacity: ONION_SHARE }}
                />
              ))}
            {mark(placed)}
            {over(placed, hover)}
          </>
        )}
      </PictureMount>
      {items.length > 1 && <Tag item={shown} />}
      {second && mode !== 'blink' && mode !== 'one' && <Tag item={second} right />}
    </div>
  );
}
