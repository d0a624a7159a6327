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
