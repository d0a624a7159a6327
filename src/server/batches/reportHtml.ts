/** The report of a batch as a page: one file that any browser opens and prints. */
import type { BatchReport } from '../../contract/queue.js';
import { escapeHtml } from '../../core/base/html.js';

const WIDTH = 900;
const HEIGHT = 160;

/** How a frame came to its files, and by which named grade. */
function howOf({ state, developed, takenOver, look }: BatchReport['frames'][number]): string {
  const how = developed ? (developed === 'exact' ? 'developed' : 'developed, filter changed') : takenOver ? 'reused' : state;
  return look === undefined ? how : `${how}, grade ${look}`;
}

/** Seconds of each frame in the plan's order; taken over and failed frames leave a gap. */
function chart(frames: BatchReport['frames']): string {
  const most = Math.max(...frames.map((f) => f.seconds ?? 0));
  if (most <= 0) return '';
  const step = WIDTH / frames.length;
  const bars = frames.map(({ seconds }, i) => {
    if (!seconds) return '';
    const height = (HEIGHT * seconds) / most;
    return `<rect x="${(i * step).toFixed(2)}" y="${(HEIGHT - height).toFixed(2)}" width="${Math.max(0.5, step - 0.5).toFixed(2)}" height="${height.toFixed(2)}"/>`;
  });
  return `<figure><figcaption>Seconds per frame, in plan order; the highest is ${most.toFixed(2)} s</figcaption>
<svg viewBox="0 0 ${WIDTH} ${HEIGHT}" role="img" aria-label="Seconds per frame">${bars.join('')}</svg></figure>`;
}

const row = (cells: readonly (string | number)[]): string => `<tr>${cells.map((c) => `<td>${escapeHtml(String(c))}</td>`).join('')}</tr>`;

/** The report as one page without scripts, that opens anywhere. */
export function reportHtml({ application, engine, machine, batch, counts, frames, movies }: BatchReport): string {
  const facts: [string, string][] = [
    ['State', batch.reason ? `${batch.state}: ${batch.reason}` : batch.state],
    ['Started', batch.created],
    ['Ended', batch.ended ?? 'not yet'],
    ['Running time', `${batch.elapsed.toFixed(1)} s`],
    [
      'Frames',
      `${counts.done} of ${counts.total} done, ${counts.developed > 0 ? `${counts.developed} of them developed from masters, ` : ''}${counts.takenOver} of them reused; ${counts.failed} failed; ${counts.accepted} accepted`,
    ],
    ['Size of files', `${(counts.bytes / 1e6).toFixed(1)} MB`],
    ['Revision', `${batch.revision}, content ${batch.model}`],
    ['Rendered by', `${application}, engine ${engine}, ${machine}`],
    ...(batch.draft ? ([['Draft', `size × ${batch.draft.size}, samples × ${batch.draft.samples}`]] as [string, string][]) : []),
  ];
  const failures = frames.filter((f) => f.state === 'failed');
  const told = frames.flatMap((f) =>
    f.files.map((file) =>
      row([f.shot, f.number, howOf(f), f.seconds?.toFixed(2) ?? '', f.samples ?? '', f.decision ?? '', file.name, file.bytes, file.sha256]),
    ),
  );
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escapeHtml(`Batch ${batch.number}, ${batch.name}`)}</title><style>
body { font: 12px/1.4 sans-serif; color: #15202a; background: #fff; margin: 24px; max-width: 1200px }
h1 { font-size: 18px } h2 { font-size: 14px } dt { font-weight: 600; float: left; clear: left; width: 110px } dd { margin-left: 120px }
table { border-collapse: collapse; font-size: 10px } th, td { padding: 2px 8px 2px 0; text-align: left; vertical-align: top; overflow-wrap: anywhere }
svg { width: 100%; max-width: ${WIDTH}px; border-bottom: 1px solid #56616b; fill: #2f5d8a } figure { margin: 16px 0 }
</style></head><body><h1>${escapeHtml(`Batch ${batch.number}, ${batch.name}`)}</h1>
<dl>${facts.map(([name, value]) => `<dt>${name}</dt><dd>${escapeHtml(value)}</dd>`).join('')}</dl>
${chart(frames)}
${batch.acceptedFaults ? `<h2>Open faults that were accepted before the run</h2><ul>${batch.acceptedFaults.map((f) => `<li>${escapeHtml(f)}</li>`).join('')}</ul>` : ''}
${failures.length > 0 ? `<h2>Failed frames</h2><table>${failures.map((f) => row([f.shot, f.number, f.message ?? ''])).join('')}</table>` : ''}
${movies.length > 0 ? `<h2>Movies</h2><table>${movies.map((m) => row([m.shot, m.file, m.bytes])).join('')}</table>` : ''}
<h2>Files</h2><table><thead><tr><th>Shot</th><th>Frame</th><th>State</th><th>Seconds</th><th>Samples</th><th>Decision</th><th>File</th><th>Bytes</th><th>SHA-256</th></tr></thead>
<tbody>${told.join('\n')}</tbody></table></body></html>
`;
}
