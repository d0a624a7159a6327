/** The forecast of the set in one line, which opens to its details. */
import type { ReactNode } from 'react';
import { Popover } from 'radix-ui';
import { useWorkspace } from '../../app/workspace.js';
import { about, fileSize } from '../../app/format.js';
import { useForecastProgress } from '../../state/forecast.js';
import { lazily } from '../../ui/lazily.js';
import { useForecastState } from './useForecastState.js';
import { HELP, LABELS, MESSAGES } from './words.js';

const ForecastDetails = lazily(() => import('./ForecastDetails.js').then((m) => m.ForecastDetails));

/** What the set takes, in one line that opens. */
export function ForecastBar(): ReactNode {
  const { setId } = useWorkspace();
  const progress = useForecastProgress(setId);
  const state = useForecastState();
  if (!state) return null;
  const { answer, pending, problem } = state;
  if (!answer) {
    const text =
      problem ?? (pending ? (progress && progress.done < progress.total ? MESSAGES.working(progress.done, progress.total) : MESSAGES.begins) : '');
    return <span className={`num text-sm ${problem ? 'max-w-80 truncate text-ochre' : 'text-graphite'}`}>{text}</span>;
  }
  const { toRender } = answer;
  const { low, likely, high } = answer.seconds;
  return (
    <Popover.Root>
      <Popover.Trigger
        className={`num whitespace-nowrap text-sm ${pending ? 'text-graphite' : 'text-cobalt'}`}
        title={HELP.forecast}
        data-testid="forecast"
      >
        {LABELS.forecast} {MESSAGES.line(about(likely), about(low), about(high), fileSize(answer.bytes))}
        {toRender && <> · {MESSAGES.toRender(about(toRender.seconds.likely))}</>}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={4}
          aria-label={LABELS.forecastDetails}
          className="z-40 flex max-h-[80vh] w-[720px] max-w-[95vw] flex-col gap-3 overflow-auto border border-graphite bg-chalk p-4 text-sm"
        >
          <ForecastDetails state={state} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
