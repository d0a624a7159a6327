import { type ReactNode, useState } from 'react';
import { fillPattern } from '../../../core/plan/fileNames.js';
import type { FormatSheet } from '../../../core/plan/formatSheet.js';
import { QUALITY_LEVELS, type QualityLevel, resolveSampling } from '../../../core/frame/settings.js';
import { useWorkspace } from '../../app/workspace.js';
import { NumberField, Select, TextField, Checkbox } from '../../ui/controls.js';
import { PresetMenu } from '../../ui/PresetMenu.js';
import { PassBar } from './PassBar.js';
import { QualityBar } from './QualityBar.js';
import { SizeMenu } from './SizeMenu.js';
import { FileTypesField } from './FileTypesField.js';
import { RateField } from './RateField.js';
import { aspectName } from './sheetSummary.js';
import { HELP, LABELS, MESSAGES } from './sheetWords.js';

/** The fields of what every shot of the set shares. */
export function FormatSheetFields(): ReactNode {
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
  const quality = typeof sheet.quality === 'string' ? sheet.quality : 'own';
  const example = (pattern: string): string =>
    fillPattern(pattern, {
      project: project.name,
      model: 'model',
      revision: revision?.letter ?? 'A',
      set: file.name,
      shot: LABELS.turntable,
      view: LABELS.view,
      pass: 'beauty',
      number: sheet.firstNumber,
      size: `${sheet.size.width}x${sheet.size.height}`,
      batch: '1',
      ...(file.author && { author: file.author }),
    });
  return (
    <div className="grid grid-cols-[84px_84px_96px_84px_116px_132px_minmax(0,1fr)_minmax(0,1fr)_64px] gap-x-4">
      <NumberField label={LABELS.width} help={HELP.width} value={sheet.size.width} decimals={0} onValue={(v) => resize('width', v)} />
      <NumberField label={LABELS.height} help={HELP.height} value={sheet.size.height} decimals={0} onValue={(v) => resize('height', v)} />
      <div>
        <p className="flex gap-2 font-head text-xs font-medium text-graphite">
          {LABELS.aspect} <SizeMenu sheet={sheet} put={put} />
        </p>
        <Checkbox label={aspectName(sheet.size)} help={HELP.lockedWidthAndHeight} checked={locked} onChecked={setLocked} />
      </div>
      <RateField rate={sheet.rate} setting="sheet.rate" help={HELP.rate} onRate={(rate) => put({ rate: rate ?? sheet.rate })} />
      <FileTypesField files={sheet.files} onFiles={(files) => put({ files })} />
      <Select
        label={LABELS.quality}
        help={HELP.quality}
        value={quality}
        options={[
          ...Object.entries(QUALITY_LEVELS).map(([k, n]) => ({ value: k, label: LABELS.samples(k, n) })),
          ...(quality === 'own' ? [{ value: 'own', label: LABELS.customSamples(resolveSampling(sheet.quality).samples) }] : []),
        ]}
        onValue={(v) => v !== 'own' && put({ quality: v as QualityLevel })}
      />
      <TextField
        label={LABELS.fileNamesStills}
        help={HELP.fileNamesStills(example(sheet.names.still))}
        value={sheet.names.still}
        mono
        onValue={(still) => put({ names: { ...sheet.names, still } })}
      />
      <TextField
        label={LABELS.fileNamesMoving}
        help={HELP.fileNamesMoving(example(sheet.names.moving))}
        value={sheet.names.moving}
        mono
        onValue={(moving) => put({ names: { ...sheet.names, moving } })}
      />
      <NumberField
        label={LABELS.startNumber}
        help={HELP.startNumber}
        value={sheet.firstNumber}
        decimals={0}
        onValue={(firstNumber) => put({ firstNumber })}
      />
      <QualityBar sheet={sheet} put={put} />
      <div className="col-span-full flex items-baseline gap-5">
        <PassBar sheet={sheet} put={put} />
        <span className="ml-auto text-sm text-graphite">
          {MESSAGES.savedFormatSheets}{' '}
          <PresetMenu kind="sheet" what="format sheet" body={sheet} onUse={(body) => edit((f) => ({ ...f, sheet: body }))} />
        </span>
      </div>
    </div>
  );
}
