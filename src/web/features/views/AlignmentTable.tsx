/** Every view on every revision: scale, the subject's box in the frame, and what moved. */
import { type ReactNode, useState } from 'react';
import { transformedBounds } from '../../../core/model/modelTransform.js';
import { alignment, alignmentCsv, type Placed } from '../../../core/camera/alignment.js';
import { useWorkspace } from '../../app/workspace.js';
import { NumberField } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './toolWords.js';

/** How views show the subject from revision to revision. */
export function AlignmentTable(): ReactNode {
  const { project, plan } = useWorkspace();
  const { file } = plan!;
  const [most, setMost] = useState(1);
  const { size, pixelAspect } = file.sheet;
  const rows = alignment(
    file.views,
    size,
    pixelAspect,
    project.revisions.map((r) => transformedBounds(file.transform, r.bounds)),
  );
  const letters = project.revisions.map((r) => r.letter);
  const flagged = rows.filter((r) => r.revisions.some((p) => p.moved !== null && p.moved > most)).length;
  const cell = ({ scale, box, moved }: Placed): ReactNode => (
    <>
      <span className="num">{LABELS.pxM(scale === null ? '–' : scale.toFixed(1))}</span>
      {moved !== null && moved > most && <span className="num ml-2 text-ochre">{LABELS.movedPx(moved.toFixed(1))}</span>}
      {box && <span className="num block text-xs text-graphite">{box.map((v) => Math.round(v)).join(' · ')}</span>}
    </>
  );
  return (
    <div className="text-sm">
      <div className="mb-1 flex items-end gap-5">
        <div className="w-28">
          <NumberField
            label={LABELS.flagAbove}
            help={HELP.flagAbove}
            value={most}
            unit="px"
            decimals={2}
            onValue={(v) => {
              if (v < 0) return MESSAGES.write0OrMore;
              setMost(v);
              return null;
            }}
          />
        </div>
        <p className={`pb-1 ${flagged > 0 ? 'text-ochre' : 'text-graphite'}`}>
          {flagged === 0 ? MESSAGES.theSubjectIsAligned : MESSAGES.theSubjectMovesIn(flagged, rows.length)}
        </p>
        <a
          className="pb-1 text-cobalt underline"
          href={`data:text/csv;charset=utf-8,${encodeURIComponent(alignmentCsv(rows, letters))}`}
          download={`${file.name} revisions.csv`}
        >
          {LABELS.exportCsv}
        </a>
      </div>
      <table className="w-full border-collapse" aria-label={LABELS.alignmentAcrossRevisions}>
        <thead className="font-head text-left text-xs text-graphite">
          <tr>
            <th className="pr-3 font-medium">{LABELS.view}</th>
            {letters.map((l) => (
              <th key={l} className="pr-3 font-medium">
                {MESSAGES.revisionScaleBoundsLeft(l)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.view.id} className="border-t border-rule align-top">
              <td className="pr-3 font-medium">{r.view.name}</td>
              {r.revisions.map((p, i) => (
                <td key={letters[i]} className="whitespace-nowrap pr-3">
                  {cell(p)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
