/** Comma-separated values as RFC 4180 has them. */

/** A field. A sign that a table program would take for a formula is kept from it. */
function field(value: string | number | null | undefined): string {
  if (value === null || value === undefined) return '';
  if (typeof value === 'number') return String(Math.round(value * 1e6) / 1e6);
  const text = /^[=+\-@\t]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

/** Rows under a head; numbers to a millionth. */
export function csv(head: string[], rows: (string | number | null | undefined)[][]): string {
  return [head, ...rows].map((row) => `${row.map(field).join(',')}\r\n`).join('');
}

/** Cells of each line that is not empty, by RFC 4180; commas, semicolons or tabs between, whichever the first line has. Throws where a quote does not end. */
export function parseCsv(text: string): string[][] {
  const body = text.replace(/^\uFEFF/, '');
  const head = /^[^\r\n]*/.exec(body)![0];
  const mark = ['\t', ';', ','].find((m) => head.includes(m)) ?? ',';
  const rows: string[][] = [];
  let row: string[] = [];
  let cell = '';
  let quoted = false;
  const endRow = (): void => {
    row.push(cell);
    if (row.some((c) => c.trim() !== '')) rows.push(row);
    [row, cell] = [[], ''];
  };
  for (let i = 0; i < body.length; i++) {
    const c = body[i]!;
    if (quoted) {
      if (c !== '"') cell += c;
      else if (body[i + 1] === '"') cell += body[++i]!;
      else quoted = false;
    } else if (c === '"' && cell.trim() === '') [quoted, cell] = [true, ''];
    else if (c === mark) {
      row.push(cell);
      cell = '';
    } else if (c === '\n') endRow();
    else if (c !== '\r') cell += c;
  }
  if (quoted) throw new Error('A quote in the table does not end. Write the table again.');
  endRow();
  return rows.map((cells) => cells.map((value) => value.trim().replace(/^'(?=[=+\-@\t])/, '')));
}
