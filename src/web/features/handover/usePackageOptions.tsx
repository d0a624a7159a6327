/** What goes into a package beside its renders. */
import { type ReactNode, useState } from 'react';
import { type NewPackage, type NewSheets, SHEET_KINDS, SHEET_TYPES } from '../../../contract/packages.js';
import type { DeliveryFileType } from '../../../core/plan/delivery.js';
import { patternProblem } from '../../../core/plan/fileNames.js';
import { captionProblem } from '../../../core/handover/sheets/contact.js';
import { type Paper, PAPER_NAMES } from '../../../core/handover/sheets/paper.js';
import { Checkbox, NumberField, Select, TextField } from '../../ui/controls.js';
import { fileTypeWords } from '../shots/sheetSummary.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Which of the set's file types go in; the last one stays. */
function FileTypes({
  types,
  chosen,
  onChosen,
}: {
  types: readonly DeliveryFileType[];
  chosen: readonly DeliveryFileType[];
  onChosen: (types: DeliveryFileType[]) => void;
}): ReactNode {
  return (
    <fieldset className="flex flex-col gap-1.5">
      <legend className="pb-1.5 text-sm font-medium" title={HELP.fileTypes}>
        {LABELS.fileTypes}
      </legend>
      <div className="grid grid-cols-2 gap-x-3 gap-y-1.5">
        {types.map((type) => (
          <Checkbox
            key={type}
            label={fileTypeWords(type)}
            help={HELP.fileTypes}
            checked={chosen.includes(type)}
            onChecked={(on) => {
              const next = types.filter((t) => (t === type ? on : chosen.includes(t)));
              if (next.length > 0) onChosen(next);
            }}
          />
        ))}
      </div>
    </fieldset>
  );
}

type Options = Omit<NewPackage, 'renders'>;
/** Millimetres that renders are wide where a person chooses a width. */
const FIRST_WIDTH = 90;
const FIRST_SHEET: NewSheets = { kinds: ['contact'], types: ['pdf'], paper: 'A3', across: true, columns: 4 };

/** What goes into a package, with the fields that choose it. @param types of files that the set has. */
export function usePackageOptions(setName: string, types: readonly DeliveryFileType[]): { options: Options; fields: ReactNode } {
  const [options, setOptions] = useState<Options>({
    name: setName,
    acceptedOnly: false,
    movies: true,
    sheet: FIRST_SHEET,
    plans: true,
    models: true,
    reports: true,
    tellHow: true,
    onlyChanged: false,
  });
  const put = (values: Partial<Options>): void => setOptions((o) => ({ ...o, ...values }));
  const box = (key: 'acceptedOnly' | 'movies' | 'plans' | 'models' | 'reports' | 'tellHow' | 'onlyChanged'): ReactNode => (
    <Checkbox label={LABELS[key]} help={HELP[key]} checked={options[key]} onChecked={(on) => put({ [key]: on })} />
  );
  const { sheet } = options;
  // What the set no longer has is not asked for.
  const chosenTypes = options.types?.some((t) => types.includes(t)) ? types.filter((t) => options.types!.includes(t)) : types;
  // How sheets are laid out is kept while none is wanted.
  const [layout, setLayout] = useState(FIRST_SHEET);
  if (sheet && sheet !== layout) setLayout(sheet);
  const kinds = sheet?.kinds ?? [];
  const { types: _, ...others } = options;
  return {
    options: chosenTypes.length < types.length ? { ...others, types: [...chosenTypes] } : others,
    fields: (
      <section aria-label={LABELS.package} className="flex flex-col gap-1.5 p-4">
        <h2 className="font-semibold">{LABELS.package}</h2>
        <TextField
          label={LABELS.name}
          help={HELP.name}
          value={options.name}
          onValue={(name) => (name.trim() === '' ? MESSAGES.nameNeeded : (put({ name: name.trim().slice(0, 80) }), null))}
        />
        <TextField
          label={LABELS.fileNames}
          help={HELP.fileNames}
          mono
          placeholder={LABELS.asPlanned}
          value={options.names ?? ''}
          onValue={(text) => {
            const names = text.trim() || undefined;
            const problem = names === undefined ? null : patternProblem(names, true);
            if (!problem) put({ names });
            return problem;
          }}
        />
        {types.length > 1 && <FileTypes types={types} chosen={chosenTypes} onChosen={(chosen) => put({ types: chosen })} />}
        {box('acceptedOnly')}
        {box('movies')}
        {box('tellHow')}
        <span className="pt-1 text-sm font-medium">{LABELS.sheets}</span>
        <div className="grid grid-cols-2 gap-x-3 gap-y-1.5">
          {SHEET_KINDS.map((kind) => (
            <Checkbox
              key={kind}
              label={LABELS[kind]}
              help={HELP[kind]}
              checked={kinds.includes(kind)}
              onChecked={(on) => {
                const next = SHEET_KINDS.filter((k) => (k === kind ? on : kinds.includes(k)));
                put({ sheet: next.length > 0 ? { ...layout, kinds: next } : undefined });
              }}
            />
          ))}
        </div>
        {sheet && (
          <div className="grid grid-cols-2 gap-x-3 pl-6">
            <div className="col-span-2 grid grid-cols-3 gap-x-3">
              {SHEET_TYPES.map((type) => (
                <Checkbox
                  key={type}
                  label={LABELS[type]}
                  help={HELP[type]}
                  checked={sheet.types.includes(type)}
                  onChecked={(on) => {
                    const types = SHEET_TYPES.filter((t) => (t === type ? on : sheet.types.includes(t)));
                    // The last one stays.
                    if (types.length > 0) put({ sheet: { ...sheet, types } });
                  }}
                />
              ))}
            </div>
            <details className="col-span-2" data-testid="sheet-layout">
              <summary className="cursor-pointer py-1 text-sm">{MESSAGES.layout(sheet)}</summary>
              <div className="grid grid-cols-2 gap-x-3">
                <Select
                  label={LABELS.paper}
                  help={HELP.paper}
                  value={sheet.paper}
                  options={PAPER_NAMES.map((value) => ({ value, label: value }))}
                  onValue={(paper) => put({ sheet: { ...sheet, paper: paper as Paper } })}
                />
                <Select
                  label={LABELS.grid}
                  help={HELP.grid}
                  value={sheet.renderWidth === undefined ? 'columns' : 'width'}
                  options={[
                    { value: 'columns', label: LABELS.byColumns },
                    { value: 'width', label: LABELS.byWidth },
                  ]}
                  onValue={(by) => put({ sheet: { ...sheet, renderWidth: by === 'width' ? FIRST_WIDTH : undefined } })}
                />
                {sheet.renderWidth === undefined ? (
                  <NumberField
                    label={LABELS.columns}
                    help={HELP.columns}
                    value={sheet.columns}
                    decimals={0}
                    onValue={(v) => {
                      const columns = Math.round(v);
                      if (columns < 1 || columns > 12) return MESSAGES.columnsRange;
                      put({ sheet: { ...sheet, columns } });
                      return null;
                    }}
                  />
                ) : (
                  <NumberField
                    label={LABELS.renderWidth}
                    help={HELP.renderWidth}
                    value={sheet.renderWidth}
                    unit="mm"
                    decimals={0}
                    onValue={(renderWidth) => {
                      if (renderWidth < 10 || renderWidth > 800) return MESSAGES.widthRange;
                      put({ sheet: { ...sheet, renderWidth } });
                      return null;
                    }}
                  />
                )}
                <div className="self-end pb-1">
                  <Checkbox
                    label={LABELS.across}
                    help={HELP.across}
                    checked={sheet.across}
                    onChecked={(across) => put({ sheet: { ...sheet, across } })}
                  />
                </div>
                <div className="col-span-2">
                  <TextField
                    label={LABELS.caption}
                    help={HELP.caption}
                    mono
                    placeholder={LABELS.usualCaption}
                    value={sheet.caption ?? ''}
                    onValue={(text) => {
                      const caption = text.trim() || undefined;
                      const problem = caption === undefined ? null : captionProblem(caption);
                      if (!problem) put({ sheet: { ...sheet, caption } });
                      return problem;
                    }}
                  />
                </div>
              </div>
            </details>
          </div>
        )}
        <span className="pt-1 text-sm font-medium">{LABELS.withRenders}</span>
        <div className="grid grid-cols-2 gap-x-3 gap-y-1.5">
          {box('plans')}
          {box('models')}
        </div>
        {box('reports')}
        {box('onlyChanged')}
      </section>
    ),
  };
}
