/** What goes into a package beside its renders. */
import { type ReactNode, useState } from 'react';
import { type NewPackage, type NewSheets, SHEET_KINDS } from '../../../contract/packages.js';
import type { DeliveryFileType } from '../../../core/image/fileTypes.js';
import { patternProblem } from '../../../core/plan/fileNames.js';
import { Checkbox, TextField } from '../../ui/controls.js';
import { fileTypeWords } from '../shots/sheetSummary.js';
import { AtLeastOne, PatternField, SheetFields } from './SheetFields.js';
import { HELP, LABELS, MESSAGES } from './words.js';

type Options = Omit<NewPackage, 'renders'>;
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
        <PatternField
          label={LABELS.fileNames}
          help={HELP.fileNames}
          placeholder={LABELS.asPlanned}
          value={options.names}
          problemOf={(names) => patternProblem(names, true)}
          onPattern={(names) => put({ names })}
        />
        {types.length > 1 && (
          <fieldset>
            <legend className="pb-1.5 text-sm font-medium" title={HELP.fileTypes}>
              {LABELS.fileTypes}
            </legend>
            <div className="grid grid-cols-2 gap-x-3 gap-y-1.5">
              <AtLeastOne
                all={types}
                chosen={chosenTypes}
                labelOf={fileTypeWords}
                helpOf={() => HELP.fileTypes}
                onChosen={(chosen) => put({ types: chosen })}
              />
            </div>
          </fieldset>
        )}
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
        {sheet && <SheetFields sheet={sheet} put={(values) => put({ sheet: { ...sheet, ...values } })} />}
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
