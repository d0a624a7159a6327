/** The text of a drawing, put so that the library takes all of it. */

/** Sorts what is of a face: the library wants its corners in order, and writers put them in any. */
function sortedFace(groups: [string, string][]): [string, string][] {
  const isCorner = ([code]: [string, string]): boolean => /^\s*[123][0-3]\s*$/.test(code);
  // By corner, then by axis: 10, 20, 30, 11, 21 …
  const rank = ([code]: [string, string]): number => (Number(code) % 10) * 10 + Math.floor(Number(code) / 10);
  return [...groups.filter((g) => !isCorner(g)), ...groups.filter(isCorner).sort((a, b) => rank(a) - rank(b))];
}

/** A drawing's text with the corners of its faces in order. Codes and values take a line each, by turns. */
export function withSortedFaces(text: string): string {
  if (!/^[ \t]*3DFACE[ \t]*\r?$/m.test(text)) return text;
  const lines = text.split(/\r?\n/);
  const out: string[] = [];
  for (let i = 0; i + 1 < lines.length; i += 2) {
    out.push(lines[i]!, lines[i + 1]!);
    if (lines[i]!.trim() !== '0' || lines[i + 1]!.trim() !== '3DFACE') continue;
    const groups: [string, string][] = [];
    while (i + 3 < lines.length && lines[i + 2]!.trim() !== '0') {
      groups.push([lines[i + 2]!, lines[i + 3]!]);
      i += 2;
    }
    for (const group of sortedFace(groups)) out.push(...group);
  }
  return `${out.join('\n')}\n`;
}
