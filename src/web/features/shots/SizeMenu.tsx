/** Sizes by their trade names, half and double, and sizes on paper. */
import { type ReactNode, useState } from 'react';
import { Popover } from 'radix-ui';
import { NAMED_SIZES, nameOfSize, PAPERS, printSize, scaledSize } from '../../../core/plan/sizes.js';
import { type FormatSheet, MAX_DPI, MIN_DPI } from '../../../core/plan/formatSheet.js';
import { Button, NumberField } from '../../ui/controls.js';
import { ExtraSizes } from './ExtraSizes.js';
import { HELP, LABELS, MESSAGES } from './sheetWords.js';
import { toast } from '../../state/toast.js';

const plain = 'flex w-full justify-between gap-3 px-1 text-left hover:bg-paper';

/** Sizes by their trade names, and on paper. */
export function SizeMenu({ sheet, put }: { sheet: FormatSheet; put: (values: Partial<FormatSheet>) => string | null }): ReactNode {
  const [dpi, setDpi] = useState(sheet.dpi ?? 300);
  const [paper, setPaper] = useState({ width: 200, height: 150 });
  /** @param onPaper pixels an inch of a size on paper; undefined of one that is none. */
  const set = (size: FormatSheet['size'], pixelAspect: number, onPaper: number | undefined): void => {
    const problem = put({ size, pixelAspect, dpi: onPaper });
    if (problem) toast.error(problem);
  };
  const setPrint = (size: FormatSheet['size']): void => set(size, 1, dpi);
  const groups = [...new Set(NAMED_SIZES.map((s) => s.group))];
  return (
    <Popover.Root>
      <Popover.Trigger className="max-w-full truncate text-xs text-cobalt underline" title={HELP.namedSizesHalfAnd}>
        {sheet.dpi === undefined ? (nameOfSize(sheet.size, sheet.pixelAspect) ?? 'sizes') : MESSAGES.dpi(sheet.dpi)}
        {sheet.sizes ? ` +${sheet.sizes.length}` : ''}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          className="z-40 grid w-[520px] grid-cols-[220px_minmax(0,1fr)] gap-x-5 gap-y-1 border border-graphite bg-chalk p-3"
        >
          <div>
            {groups.map((group) => (
              <div key={group}>
                <p className="font-head text-xs font-medium text-graphite">{group}</p>
                {NAMED_SIZES.filter((s) => s.group === group).map((s) => (
                  <button
                    key={s.name}
                    type="button"
                    className={plain}
                    onClick={() => set({ width: s.width, height: s.height }, s.pixelAspect ?? 1, undefined)}
                  >
                    <span>{s.name}</span>
                    <span className="num text-sm text-graphite">
                      {s.width} × {s.height}
                    </span>
                  </button>
                ))}
              </div>
            ))}
          </div>
          <div className="flex flex-col gap-2">
            <div className="flex gap-2">
              <Button onClick={() => set(scaledSize(sheet.size, 0.5), sheet.pixelAspect, sheet.dpi)}>{LABELS.half}</Button>
              <Button onClick={() => set(scaledSize(sheet.size, 2), sheet.pixelAspect, sheet.dpi)}>{LABELS.double}</Button>
              <Button onClick={() => set({ width: sheet.size.height, height: sheet.size.width }, 1 / sheet.pixelAspect, sheet.dpi)}>
                {LABELS.rotate}
              </Button>
            </div>
            <NumberField
              label={LABELS.pixelAspect}
              help={HELP.pixelAspect}
              value={sheet.pixelAspect}
              decimals={4}
              step={0.1}
              onValue={(pixelAspect) => put({ pixelAspect })}
            />
            <ExtraSizes sheet={sheet} put={put} />
            <div className="border-t border-rule pt-2">
              <p className="font-head text-xs font-medium text-graphite">{LABELS.paperSize}</p>
              <NumberField
                label={LABELS.resolution}
                help={HELP.resolution}
                value={dpi}
                decimals={0}
                onValue={(v) => {
                  if (v < MIN_DPI || v > MAX_DPI) return MESSAGES.from20To2400;
                  setDpi(v);
                  return null;
                }}
              />
              <div className="grid grid-cols-[1fr_1fr_auto] items-end gap-2">
                {(['width', 'height'] as const).map((side) => (
                  <NumberField
                    key={side}
                    label={side === 'width' ? LABELS.paperWidth : LABELS.paperHeight}
                    help={HELP.paperSide}
                    value={paper[side]}
                    unit="mm"
                    quantity="focal"
                    decimals={1}
                    onValue={(v) => {
                      if (v < 1 || v > 5000) return MESSAGES.from1To5000;
                      setPaper({ ...paper, [side]: v });
                      return null;
                    }}
                  />
                ))}
                <Button onClick={() => setPrint(printSize(paper.width, paper.height, dpi))}>
                  {MESSAGES.inPixels(printSize(paper.width, paper.height, dpi).width, printSize(paper.width, paper.height, dpi).height)}
                </Button>
              </div>
              {PAPERS.map((p) => {
                const size = printSize(p.width, p.height, dpi);
                return (
                  <button key={p.name} type="button" className={plain} onClick={() => setPrint(size)}>
                    <span>
                      {p.name} <span className="num text-xs text-graphite">{LABELS.mm(p.width)}</span>
                    </span>
                    <span className="num text-sm text-graphite">
                      {size.width} × {size.height}
                    </span>
                  </button>
                );
              })}
            </div>
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
