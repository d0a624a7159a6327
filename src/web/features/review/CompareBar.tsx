/** How the renders on the easel are compared, and what their difference comes to. */
import type { ReactNode } from 'react';
import { ChevronLeft, ChevronRight } from 'lucide-react';
import { MAX_THRESHOLD, MIN_THRESHOLD } from '../../../core/review/threshold.js';
import { Button, NumberField, Select } from '../../ui/controls.js';
import type { DifferenceFigures } from '../../compare/differenceJob.js';
import { Segments } from '../../ui/Segments.js';
import { MODES } from './easelItems.js';
import type { CompareState } from './useCompare.js';
import { HELP, LABELS, MESSAGES, MODE_WORDS } from './words.js';

/** Changes a second that can be chosen: more than three flashes a second can harm (WCAG 2.3.1). */
const RATES = [0.5, 1, 2, 3];

interface Props {
  compare: CompareState;
  /** What else can be done, and is to be said, of the difference. */
  children?: ReactNode;
}

/** The figures of the difference as text. */
function figureText({ changed, ssim, largest }: DifferenceFigures): string {
  return MESSAGES.differenceFigures((100 * changed).toFixed(changed < 0.001 && changed > 0 ? 3 : 1), ssim.toFixed(3), largest.toFixed(1));
}

/** How renders are compared, and the figures of their difference. */
export function CompareBar({ compare, children }: Props): ReactNode {
  const { settings, put: onSettings, threshold, setThreshold, difference, stepArea } = compare;
  const { figures, problem, busy } = difference;
  const { mode, upright, rate, share, area } = settings;
  const put = (value: number, least: number, most: number, act: () => void, said: string): string | null => {
    if (!(value >= least && value <= most)) return said;
    act();
    return null;
  };
  return (
    <div className="flex shrink-0 flex-wrap items-center gap-x-4 gap-y-2 border-t border-rule bg-chalk px-4 py-2">
      <Segments label={LABELS.compareBy} values={MODES} words={MODE_WORDS} value={mode} onValue={(m) => onSettings({ mode: m })} />
      {mode === 'wipe' && (
        <Button title={HELP.turnWipe} onClick={() => onSettings({ upright: !upright })}>
          {upright ? LABELS.wipeAcross : LABELS.wipeUpright}
        </Button>
      )}
      {mode === 'blink' && (
        <span className="w-28">
          <Select
            label={LABELS.blinkRate}
            help={HELP.blinkRate}
            value={String(rate)}
            options={RATES.map((r) => ({ value: String(r), label: LABELS.perSecond(r) }))}
            onValue={(r) => onSettings({ rate: Number(r) })}
          />
        </span>
      )}
      {mode === 'overlay' && (
        <span className="w-28">
          <NumberField
            label={LABELS.overlayShare}
            help={HELP.overlayShare}
            value={100 * share}
            unit="%"
            step={5}
            decimals={0}
            onValue={(v) => put(v, 0, 100, () => onSettings({ share: v / 100 }), MESSAGES.shareRange)}
          />
        </span>
      )}
      {mode === 'difference' && (
        <>
          <span className="w-24">
            <NumberField
              label={LABELS.threshold}
              help={HELP.threshold}
              value={threshold}
              unit="ΔE"
              step={0.5}
              decimals={1}
              onValue={(v) => put(v, MIN_THRESHOLD, MAX_THRESHOLD, () => setThreshold(v), MESSAGES.thresholdRange)}
            />
          </span>
          <span className="flex items-center gap-1">
            <Button title={HELP.previousArea} aria-label={LABELS.previousArea} disabled={!figures?.count} onClick={() => stepArea(-1)}>
              <ChevronLeft size={16} aria-hidden />
            </Button>
            <span className="num w-16 text-center text-sm" data-testid="area">
              {figures ? (area === null ? LABELS.areas(figures.count) : LABELS.areaOf(area + 1, figures.areas.length)) : '–'}
            </span>
            <Button title={HELP.nextArea} aria-label={LABELS.nextArea} disabled={!figures?.count} onClick={() => stepArea(1)}>
              <ChevronRight size={16} aria-hidden />
            </Button>
          </span>
        </>
      )}
      <p className="num ml-auto text-sm text-graphite" data-testid="difference" aria-live="polite">
        {figures?.isFirstLook && `${MESSAGES.firstLook} `}
        {figures ? figureText(figures) : problem ? <span className="text-ochre">{problem}</span> : busy ? MESSAGES.comparing : ''}
        {figures?.scaled && <span className="block text-xs text-ochre">{MESSAGES.comparedAt(figures.width, figures.height)}</span>}
      </p>
      {children}
    </div>
  );
}
