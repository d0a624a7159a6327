/** The audit of a package as a page of its own that any browser opens. */
import type { PackageReply } from '../../contract/packages.js';
import type { Manifest } from '../../core/handover/manifest.js';
import { policyOfStyle } from '../http/pagePolicy.js';

const STYLE = `
body{font:14px/1.5 sans-serif;color:#15202a;background:#fff;margin:32px auto;max-width:960px;padding:0 16px}
h1{font-size:20px;margin:0 0 4px}p{color:#51606b;margin:0 0 20px}
table{border-collapse:collapse;width:100%;margin:0 0 28px}th,td{text-align:left;padding:4px 12px 4px 0;border-bottom:1px solid #d3dadf;vertical-align:top}th{font-weight:600;border-color:#15202a}
td{overflow-wrap:anywhere}.good{color:#3c6a29}.bad{color:#a62c49}
`;

/** What the page may load. */
export const AUDIT_POLICY = policyOfStyle(STYLE);

const escape = (text: string): string => text.replace(/[&<>"']/g, (c) => `&${{ '&': 'amp', '<': 'lt', '>': 'gt', '"': 'quot', "'": '#39' }[c]!};`);
const megabytes = (bytes: number): string => `${(bytes / 1e6).toFixed(bytes < 1e7 ? 2 : 0)} MB`;

/** What a check of the package found, as a page that opens anywhere. */
export function auditHtml({ name, audited, faults, files, bytes }: PackageReply, { project, set, runs, made, files: entries }: Manifest): string {
  const open = faults.filter((f) => f.waived === undefined);
  const said = open.length === 0 ? 'All files are as planned and as asked.' : `${open.length} ${open.length === 1 ? 'fault is' : 'faults are'} open.`;
  const row = (cells: readonly string[]): string => `<tr>${cells.map((c) => `<td>${escape(c)}</td>`).join('')}</tr>`;
  const countOf = (key: string, kind: string): number => entries.filter((f) => f.kind === kind && 'run' in f && f.run === key).length;
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>Audit of ${escape(name)}</title>
<style>${STYLE}</style></head><body>
<h1>${escape(name)}</h1>
<p>${escape(project)}, ${escape(set)} · made ${escape(made.slice(0, 16).replace('T', ' '))} UTC · ${files} files, ${megabytes(bytes)} · read ${escape((audited ?? '').slice(0, 16).replace('T', ' '))} UTC</p>
<p><strong class="${open.length === 0 ? 'good' : 'bad'}">${said}</strong></p>
${
  faults.length === 0
    ? ''
    : `<table><thead><tr><th>File</th><th>Expected</th><th>Found</th><th>Accepted because</th></tr></thead><tbody>${faults
        .map((f) => row([f.file, f.expected, f.found, f.waived ?? '']))
        .join('')}</tbody></table>`
}
<table><thead><tr><th>Shot</th><th>Revision</th><th>Batch</th><th>Size</th><th>Rate</th><th>Frames</th><th>Files</th><th>Movies</th></tr></thead><tbody>${runs
    .map((r) =>
      row([
        r.name,
        r.revision,
        String(r.batch),
        `${r.width} × ${r.height}`,
        r.moving ? r.rate : '',
        String(r.numbers.length),
        String(countOf(r.key, 'render')),
        String(countOf(r.key, 'movie')),
      ]),
    )
    .join('')}</tbody></table>
</body></html>
`;
}
