/** The natural page of a sun study: dates down, hours across, a picture in each cell. One file, that any browser opens. */
import { escapeHtml } from '../base/html.js';

/** One render of a sun study, with where the sun stood. */
export interface SunStudyCell {
  date: string;
  time: string;
  /** Degrees. */
  altitude: number;
  azimuth: number;
  /** Address of the picture; a data address keeps the page in one file. */
  image: string;
}

/** The page as HTML. Cells without a picture stay empty: the sun was not up. */
export function sunStudyHtml(title: string, cells: readonly SunStudyCell[]): string {
  const dates = [...new Set(cells.map((c) => c.date))].sort();
  const times = [...new Set(cells.map((c) => c.time))].sort();
  const at = new Map(cells.map((c) => [`${c.date} ${c.time}`, c]));
  const cell = (c: SunStudyCell | undefined): string =>
    c ? `<td><img src="${c.image}" alt="${c.date} ${c.time}"><span>${c.altitude.toFixed(1)}° up, ${c.azimuth.toFixed(0)}°</span></td>` : '<td></td>';
  const rows = dates.map((date) => `<tr><th>${date}</th>${times.map((time) => cell(at.get(`${date} ${time}`))).join('')}</tr>`);
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escapeHtml(title)}</title><style>
body { font: 12px/1.4 sans-serif; color: #15202a; background: #fff; margin: 24px }
h1 { font-size: 18px } table { border-collapse: collapse } th { font-weight: 600; padding: 4px 8px; text-align: left; white-space: nowrap }
td { padding: 2px; vertical-align: top } img { display: block; width: 160px } span { color: #56616b; font-size: 10px }
@media print { @page { size: A3 landscape } img { width: 100% } }
</style></head><body><h1>${escapeHtml(title)}</h1>
<table><thead><tr><th></th>${times.map((t) => `<th>${t}</th>`).join('')}</tr></thead><tbody>
${rows.join('\n')}
</tbody></table></body></html>
`;
}
