import { type ReactNode, useState } from 'react';
import { fillPattern } from '../../../core/plan/fileNames.js';
import { type FormatSheet } from '../../../core/plan/formatSheet.js';
import { QUALITY_LEVELS, type QualityLevel, resolveSampling } from '../../../core/frame/settings.js';
import { COMMON_RATES, rateName } from '../../../core/units/rate.js';
import { useWorkspace } from '../../app/workspace.js';
import { NumberField, Select, TextField, Checkbox } from '../../ui/controls.js';
import { PresetMenu } from '../../ui/PresetMenu.js';
import { DeliveryMenu } from './DeliveryMenu.js';
import { PassBar } from './PassBar.js';
import { QualityBar } from './QualityBar.js';
import { SizeMenu } from './SizeMenu.js';

function aspectName({ width, height }: { width: number; height: number }): string {
  const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
  const g = gcd(width, height);
  return width / g <= 64 && height / g <= 64 ? `${width / g}:${height / g}` : (width / height).toFixed(4);
}

const FILE_CHOICES: Record<string, FormatSheet['files'][number]> = {
  'png 8': { type: 'png', bits: 8 },
  'png 16': { type: 'png', bits: 16 },
  jpeg: { type: 'jpeg', quality: 92 },
  'exr 16': { type: 'exr', bits: 16 },
  'exr 32': { type: 'exr', bits: 32 },
};

/** What every shot of the set shares. */
export function FormatSheetBar(): ReactNode {
  const { plan, project, revision } = useWorkspace();
  const { file, edit } = plan!;
  const { sheet } = file;
  const [locked, setLocked] = useState(true);
  const put = (values: Partial<FormatSheet>): string | null => edit((f) => ({ ...f, sheet: { ...f.sheet, ...values } }));
  const resize = (side: 'width' | 'height', value: number): string | null => {
    const v = Math.round(value);
    const ratio = sheet.size.width / sheet.size.height;
    const other = Math.round(side === 'width' ? v / ratio : v * ratio);
    if (!locked) return put({ size: { ...sheet.size, [side]: v } });
    return put({ size: side === 'width' ? { width: v, height: other } : { width: other, height: v } });
  };
  const png = sheet.files[0]!;
  const quality = typeof sheet.quality === 'string' ? sheet.quality : 'own';
  const example = (pattern: string): string =>
    fillPattern(pattern, {
      project: project.name,
      model: 'model',
      revision: revision?.letter ?? 'A',
      set: file.name,
      shot: 'Turntable',
      view: 'View',
      pass: 'beauty',
      number: sheet.firstNumber,
      size: `${sheet.size.width}x${sheet.size.height}`,
      batch: '1',
    });
  return (
    <section
      aria-label="Format sheet"
      className="grid shrink-0 grid-cols-[84px_84px_96px_84px_116px_132px_minmax(0,1fr)_minmax(0,1fr)_64px] gap-x-4 border-b border-rule bg-chalk px-[18px] pb-1 pt-2"
    >
      <NumberField
        label="Width"
        help="Pixels across, 16 to 16384. Arithmetic works: 1920*2."
        value={sheet.size.width}
        decimals={0}
        onValue={(v) => resize('width', v)}
      />
      <NumberField
        label="Height"
        help="Pixels down, 16 to 16384. Movies need even sizes."
        value={sheet.size.height}
        decimals={0}
        onValue={(v) => resize('height', v)}
      />
      <div>
        <p className="flex gap-2 font-head text-xs font-medium text-graphite">
          Aspect <SizeMenu sheet={sheet} put={put} />
        </p>
        <Checkbox label={aspectName(sheet.size)} help="Locked: width and height change together." checked={locked} onChecked={setLocked} />
      </div>
      <Select
        label="Rate"
        help="Frames a second, exact: 23.976 is 24000/1001."
        value={sheet.rate}
        options={[...new Set([...COMMON_RATES, sheet.rate])].map((r) => ({ value: r, label: rateName(r) }))}
        onValue={(rate) => put({ rate })}
      />
      <Select
        label="Files"
        help="PNG keeps every value, 16 bits for further work; JPEG is small and loses a little; OpenEXR holds all passes of a frame in linear light."
        value={png.type === 'jpeg' ? 'jpeg' : `${png.type} ${png.bits}`}
        options={[
          { value: 'png 8', label: 'PNG, 8 bits' },
          { value: 'png 16', label: 'PNG, 16 bits' },
          { value: 'jpeg', label: 'JPEG' },
          { value: 'exr 16', label: 'OpenEXR, half' },
          { value: 'exr 32', label: 'OpenEXR, float' },
        ]}
        onValue={(v) => put({ files: [FILE_CHOICES[v]!] })}
      />
      <Select
        label="Quality"
        help="Samples a pixel: quick is shaded, not traced, and takes a second; draft 16 to look at, review 64 for meetings, final 256 for delivery. Time grows in proportion."
        value={quality}
        options={[
          ...Object.entries(QUALITY_LEVELS).map(([k, n]) => ({ value: k, label: `${k}, ${n} samples` })),
          ...(quality === 'own' ? [{ value: 'own', label: `own, ${resolveSampling(sheet.quality).samples} samples` }] : []),
        ]}
        onValue={(v) => v !== 'own' && put({ quality: v as QualityLevel })}
      />
      <TextField
        label="Names, stills"
        help={`Tokens in braces: {project} {model} {revision} {set} {shot} {view} {pass} {size} {variant} {date} {time} {batch}. Now: ${example(sheet.names.still)}`}
        value={sheet.names.still}
        mono
        onValue={(still) => put({ names: { ...sheet.names, still } })}
      />
      <TextField
        label="Names, moving"
        help={`As for stills, and {frame:4} for the number in four digits. Now: ${example(sheet.names.moving)}`}
        value={sheet.names.moving}
        mono
        onValue={(moving) => put({ names: { ...sheet.names, moving } })}
      />
      <NumberField
        label="First no."
        help="The number of each shot's first frame."
        value={sheet.firstNumber}
        decimals={0}
        onValue={(firstNumber) => put({ firstNumber })}
      />
      <QualityBar sheet={sheet} put={put} />
      <div className="col-span-full flex items-baseline gap-5">
        <PassBar sheet={sheet} put={put} />
        <span className="ml-auto text-sm text-graphite">
          Format sheets: <PresetMenu kind="sheet" what="format sheet" body={sheet} onUse={(body) => edit((f) => ({ ...f, sheet: body }))} />
        </span>
        <DeliveryMenu />
      </div>
    </section>
  );
}
