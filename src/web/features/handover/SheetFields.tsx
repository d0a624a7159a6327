/** How the sheets of a package are written and laid out. */
import type { ReactNode } from 'react';
import { type NewSheets, SHEET_TYPES } from '../../../contract/packages.js';
import { captionProblem } from '../../../core/handover/sheets/contact.js';
import { type Paper, PAPER_NAMES } from '../../../core/handover/sheets/paper.js';
import { Checkbox, NumberField, Select, TextField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './words.js';

/** Millimetres that renders are wide where a person chooses a width. */
const FIRST_WIDTH = 90;

interface AtLeastOneProps<T extends string> {
  all: readonly T[];
  chosen: readonly T[];
  labelOf: (value: T) => string;
  helpOf: (value: T) => string;
  onChosen: (values: T[]) => void;
}

/** A checkbox for each of some values; the last one that is chosen stays. */
export function AtLeastOne<T extends string>({ all, chosen, labelOf, helpOf, onChosen }: AtLeastOneProps<T>): ReactNode {
  return all.map((value) => (
    <Checkbox
      key={value}
      label={labelOf(value)}
      help={helpOf(value)}
      checked={chosen.includes(value)}
      onChecked={(on) => {
        const next = all.filter((v) => (v === value ? on : chosen.includes(v)));
        if (next.length > 0) onChosen(next);
      }}
    />
  ));
}

interface PatternFieldProps {
  label: string;
  help: string;
  /** What goes where no pattern is written. */
  placeholder: string;
  value: string | undefined;
  problemOf: (pattern: string) => string | null;
  onPattern: (pattern: string | undefined) => void;
}

/** A field for words with tokens, which may be left empty. */
export function PatternField({ value, problemOf, onPattern, ...field }: PatternFieldProps): ReactNode {
  return (
    <TextField
      {...field}
      mono
      value={value ?? ''}
      onValue={(text) => {
        const pattern = text.trim() || undefined;
        const problem = pattern === undefined ? null : problemOf(pattern);
        if (!problem) onPattern(pattern);
        return problem;
      }}
    />
  );
}

interface SheetFieldsProps {
  sheet: NewSheets;
  put: (values: Partial<NewSheets>) => void;
}

/** Files of the sheets, and their layout, which is folded to one line. */
export function SheetFields({ sheet, put }: SheetFieldsProps): ReactNode {
  return (
    <div className="pl-6">
      <div className="grid grid-cols-3 gap-x-3">
        <AtLeastOne
          all={SHEET_TYPES}
          chosen={sheet.types}
          labelOf={(type) => LABELS[type]}
          helpOf={(type) => HELP[type]}
          onChosen={(types) => put({ types })}
        />
      </div>
      <details data-testid="sheet-layout">
        <summary className="cursor-pointer py-1 text-sm">{MESSAGES.layout(sheet)}</summary>
        <LayoutFields sheet={sheet} put={put} />
      </details>
    </div>
  );
}

function LayoutFields({ sheet, put }: SheetFieldsProps): ReactNode {
  return (
    <div className="grid grid-cols-2 gap-x-3">
      <Select
        label={LABELS.paper}
        help={HELP.paper}
        value={sheet.paper}
        options={PAPER_NAMES.map((value) => ({ value, label: value }))}
        onValue={(paper) => put({ paper: paper as Paper })}
      />
      <Select
        label={LABELS.grid}
        help={HELP.grid}
        value={sheet.renderWidth === undefined ? 'columns' : 'width'}
        options={[
          { value: 'columns', label: LABELS.byColumns },
          { value: 'width', label: LABELS.byWidth },
        ]}
        onValue={(by) => put({ renderWidth: by === 'width' ? FIRST_WIDTH : undefined })}
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
            put({ columns });
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
            put({ renderWidth });
            return null;
          }}
        />
      )}
      <div className="self-end pb-1">
        <Checkbox label={LABELS.across} help={HELP.across} checked={sheet.across} onChecked={(across) => put({ across })} />
      </div>
      <div className="col-span-2">
        <PatternField
          label={LABELS.caption}
          help={HELP.caption}
          placeholder={LABELS.usualCaption}
          value={sheet.caption}
          problemOf={captionProblem}
          onPattern={(caption) => put({ caption })}
        />
      </div>
    </div>
  );
}
