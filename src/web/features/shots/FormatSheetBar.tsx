/** What every shot of the set shares: one line of its values that opens to its fields. */
import type { ReactNode } from 'react';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { setPreferences, usePreferences } from '../../app/preferences.js';
import { useWorkspace } from '../../app/workspace.js';
import { SettingsOf } from '../../forms/SettingsOf.js';
import { ForecastBar } from '../forecast/ForecastBar.js';
import { DeliveryMenu } from './DeliveryMenu.js';
import { FormatSheetFields } from './FormatSheetFields.js';
import { sheetSummary } from './sheetSummary.js';
import { LABELS } from './sheetWords.js';

/** What all shots share, in one line that opens. */
export function FormatSheetBar(): ReactNode {
  const { plan } = useWorkspace();
  const { sheetOpen: open } = usePreferences();
  const Arrow = open ? ChevronDown : ChevronRight;
  return (
    <section aria-label={LABELS.formatSheet} className="shrink-0 border-b border-rule bg-chalk px-[18px]">
      <div className="flex items-center gap-4 py-1.5">
        <button
          type="button"
          aria-expanded={open}
          className="flex min-w-0 items-center gap-1.5 text-left"
          onClick={() => setPreferences({ sheetOpen: !open })}
        >
          <Arrow size={14} aria-hidden className="shrink-0 text-graphite" />
          <span className="shrink-0 font-medium">{LABELS.formatSheet}</span>
          <span className="num truncate text-sm text-graphite">{sheetSummary(plan!.file.sheet)}</span>
        </button>
        <span className="ml-auto flex shrink-0 items-center gap-4">
          <ForecastBar />
          <DeliveryMenu />
        </span>
      </div>
      {open && (
        <div className="pb-1">
          <SettingsOf set={plan!.file} owners={{ sheet: plan!.file.sheet }}>
            <FormatSheetFields />
          </SettingsOf>
        </div>
      )}
    </section>
  );
}
