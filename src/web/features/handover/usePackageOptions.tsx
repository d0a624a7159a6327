/** What goes into a package beside its renders. */
import { type ReactNode, useState } from 'react';
import type { NewPackage } from '../../../contract/packages.js';
import { type Paper, PAPER_NAMES } from '../../../core/handover/sheetLayout.js';
import { Checkbox, NumberField, Select, TextField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

type Options = Omit<NewPackage, 'renders'>;
const FIRST_SHEET = { paper: 'A3' as Paper, across: true, columns: 4 };

/** What goes into a package, with the fields that choose it. */
export function usePackageOptions(setName: string): { options: Options; fields: ReactNode } {
  const [options, setOptions] = useState<Options>({
    name: setName,
    acceptedOnly: false,
    movies: true,
    sheet: FIRST_SHEET,
    plans: true,
    models: true,
    reports: true,
    onlyChanged: false,
  });
  const put = (values: Partial<Options>): void => setOptions((o) => ({ ...o, ...values }));
  const box = (key: 'acceptedOnly' | 'movies' | 'plans' | 'models' | 'reports' | 'onlyChanged'): ReactNode => (
    <Checkbox label={LABELS[key]} help={HELP[key]} checked={options[key]} onChecked={(on) => put({ [key]: on })} />
  );
  const { sheet } = options;
  return {
    options,
    fields: (
      <section aria-label={LABELS.package} className="flex flex-col gap-1.5 p-4">
        <h2 className="font-semibold">{LABELS.package}</h2>
        <TextField
          label={LABELS.name}
          help={HELP.name}
          value={options.name}
          onValue={(name) => (name.trim() === '' ? MESSAGES.nameNeeded : (put({ name: name.trim().slice(0, 80) }), null))}
        />
        {box('acceptedOnly')}
        {box('movies')}
        <Checkbox
          label={LABELS.contactSheet}
          help={HELP.contactSheet}
          checked={sheet !== undefined}
          onChecked={(on) => put({ sheet: on ? FIRST_SHEET : undefined })}
        />
        {sheet && (
          <div className="grid grid-cols-2 gap-x-3 pl-6">
            <Select
              label={LABELS.paper}
              help={HELP.paper}
              value={sheet.paper}
              options={PAPER_NAMES.map((value) => ({ value, label: value }))}
              onValue={(paper) => put({ sheet: { ...sheet, paper: paper as Paper } })}
            />
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
            <div className="col-span-2">
              <Checkbox
                label={LABELS.across}
                help={HELP.across}
                checked={sheet.across}
                onChecked={(across) => put({ sheet: { ...sheet, across } })}
              />
            </div>
          </div>
        )}
        {box('plans')}
        {box('models')}
        {box('reports')}
        {box('onlyChanged')}
      </section>
    ),
  };
}
