/** The HTTP interface as a page that a person reads. */
import { escapeHtml } from '../../core/base/html.js';
import { ROUTES } from '../../contract/routes/index.js';
import type { RouteSpec } from '../../contract/routes/route.js';
import { policyOfStyle } from '../http/pagePolicy.js';
import { openApiDocument } from './document.js';

const STYLE = `
body { font: 14px/1.45 sans-serif; color: #15202a; background: #fff; margin: 24px; max-width: 1280px }
h1 { font-size: 20px } table { border-collapse: collapse; width: 100% } th { text-align: left; font-weight: 600 }
th, td { border-bottom: 1px solid #c4ccd1; padding: 5px 8px; vertical-align: top } code { font: 12px/1.45 monospace; white-space: nowrap }
`;
/** What the page may load. */
export const OPENAPI_POLICY = policyOfStyle(STYLE);

interface Operation {
  parameters?: { name: string; in: string; required: boolean }[];
}

/** Names of what may stand behind the question mark; what must is not marked. */
function queryOf({ parameters = [] }: Operation): string {
  return parameters
    .filter((p) => p.in === 'query')
    .map((p) => (p.required ? p.name : `${p.name}?`))
    .join(', ');
}

const takes = ({ body }: RouteSpec): string => (body === undefined ? '' : body === 'files' ? 'files' : 'JSON');
const answers = ({ reply }: RouteSpec): string => (reply === undefined ? 'nothing' : typeof reply === 'string' ? reply : 'JSON');

/** The page: a table of all routes. */
export function openApiPage(): string {
  const { paths } = openApiDocument() as { paths: Record<string, Record<string, Operation>> };
  const rows = (Object.entries(ROUTES) as [string, RouteSpec][]).map(([route, spec]) => {
    const [method, path] = route.split(' ') as [string, string];
    const own = paths[path.replace(/:(\w+)/g, '{$1}')]![method.toLowerCase()]!;
    const cells = [method, `/api${path}`, `${spec.does}.`, queryOf(own), takes(spec), answers(spec)];
    return `<tr>${cells.map((cell, i) => `<td>${i < 2 ? `<code>${escapeHtml(cell)}</code>` : escapeHtml(cell)}</td>`).join('')}</tr>`;
  });
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Cold Easel: the HTTP interface</title><style>${STYLE}</style></head><body><h1>The HTTP interface</h1>
<p>The same for programs: <a href="openapi.json">openapi.json</a> (OpenAPI 3.1), with the shapes of all bodies and replies. Errors are problems by RFC 9457.</p>
<table><thead><tr><th>Method</th><th>Address</th><th>Does</th><th>Query</th><th>Takes</th><th>Answers</th></tr></thead><tbody>
${rows.join('\n')}
</tbody></table></body></html>
`;
}
