/** What was accepted and why, also what no longer counts. */
import type { ReactNode } from 'react';
import type { PreflightReply } from '../../../contract/preflight.js';
import { FINDING_TITLES } from './titles.js';
import { LABELS, MESSAGES } from './words.js';

interface Props {
  waivers: PreflightReply['waivers'];
  nameOf: (run: string) => string;
  onWithdraw: (index: number) => void;
}

/** Findings that were waived, each with its reason. */
export function WaiverList({ waivers, nameOf, onWithdraw }: Props): ReactNode {
  if (waivers.length === 0) return null;
  return (
    <section aria-label={LABELS.waivers} className="px-[18px] py-3">
      <h2 className="font-head text-xs font-medium text-graphite">{LABELS.waivers}</h2>
      <ul>
        {waivers.map((w, i) => {
          const scope =
            w.shot === undefined
              ? LABELS.wholeSet
              : `${nameOf(w.shot)}${w.frame === undefined ? '' : `, ${LABELS.thisFrame(w.frame).toLowerCase()}`}`;
          return (
            <li key={`${w.finding} ${w.shot} ${w.frame} ${w.about}`} className="flex items-baseline gap-3 border-b border-rule py-1.5 text-sm">
              <span className="min-w-0 flex-1">
                {MESSAGES.waiverOf(FINDING_TITLES[w.finding] ?? w.finding, scope)}
                <span className="block text-graphite">{w.reason}</span>
              </span>
              {!w.holds && <span className="text-ochre">{LABELS.ended}</span>}
              <button type="button" className="text-cobalt underline" onClick={() => onWithdraw(i)}>
                {LABELS.withdraw}
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
