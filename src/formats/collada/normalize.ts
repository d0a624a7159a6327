/** What the loader does not take in a Collada document is put so that it does, on the parsed document itself. */

/** As much of an XML element as is used here. */
export interface Xml {
  textContent: string | null;
  querySelectorAll(selector: string): Iterable<Xml>;
  querySelector(selector: string): Xml | null;
  getAttribute(name: string): string | null;
  setAttribute(name: string, value: string): void;
  append(...children: Xml[]): void;
  cloneNode(deep: boolean): Xml;
  replaceWith(other: Xml): void;
  remove(): void;
}

/** What is used of an XML document. */
export interface XmlDocument extends Xml {
  documentElement: Xml;
  createElement(name: string): Xml;
}

const count = (n: number): number[] => Array.from({ length: Math.max(0, n) }, (_, k) => k);

/** As which element with one list it is read, and the corners out of a list of n. */
interface Spread {
  becomes: 'triangles' | 'polylist' | 'lines';
  corners(n: number): number[];
}

/** COLLADA 1.4.1: of these every <p> is a strip, a fan or a polygon of its own. */
const SPREADS: Record<string, Spread> = {
  tristrips: { becomes: 'triangles', corners: (n) => count(n - 2).flatMap((k) => (k % 2 === 0 ? [k, k + 1, k + 2] : [k + 1, k, k + 2])) },
  trifans: { becomes: 'triangles', corners: (n) => count(n - 2).flatMap((k) => [0, k + 1, k + 2]) },
  polygons: { becomes: 'polylist', corners: count },
  linestrips: { becomes: 'lines', corners: (n) => count(n - 1).flatMap((k) => [k, k + 1]) },
};
const SIDES = { triangles: 3, lines: 2 };

/** Elements that hold numbers with a fraction. */
const NUMBERS = 'float_array, matrix, translate, rotate, scale, lookat, color, float';

/** Puts an element with one list in the place of one with many. */
function asOneList(document: XmlDocument, element: Xml, { becomes, corners }: Spread): void {
  const inputs = [...element.querySelectorAll('input')];
  const stride = 1 + Math.max(0, ...inputs.map((i) => Number(i.getAttribute('offset') ?? 0)));
  const out: string[] = [];
  const sides: number[] = [];
  for (const p of element.querySelectorAll('p')) {
    const numbers = (p.textContent ?? '').trim().split(/\s+/);
    const own = corners(Math.floor(numbers.length / stride));
    for (const i of own) for (let k = 0; k < stride; k++) out.push(numbers[i * stride + k]!);
    sides.push(own.length);
  }
  const made = document.createElement(becomes);
  const child = (name: string, numbers: (string | number)[]): Xml => {
    const list = document.createElement(name);
    list.textContent = numbers.join(' ');
    return list;
  };
  made.setAttribute('count', String(becomes === 'polylist' ? sides.length : out.length / stride / SIDES[becomes]));
  const material = element.getAttribute('material');
  if (material !== null) made.setAttribute('material', material);
  made.append(...inputs.map((i) => i.cloneNode(true)), ...(becomes === 'polylist' ? [child('vcount', sides)] : []), child('p', out));
  element.replaceWith(made);
}

/**
 * Tidies the document in place: strips, fans and polygons become one list each; a missing asset, decimal commas as a writer puts them whose
 * computer speaks such a language, and materials that are used but not there are put right; and every picture's address becomes `picture-N.png`, so that nothing is ever fetched, whatever it was.
 * Returns those addresses by N.
 */
export function normalizeCollada(document: XmlDocument): string[] {
  for (const [name, spread] of Object.entries(SPREADS))
    for (const element of [...document.querySelectorAll(name)]) asOneList(document, element, spread);
  const asset = document.querySelector('asset');
  if (!asset) document.documentElement.append(document.createElement('asset'));
  const unit = asset?.querySelector('unit');
  const metre = unit?.getAttribute('meter');
  if (metre?.includes(',')) {
    unit!.setAttribute('meter', metre.replace(',', '.'));
    for (const e of document.querySelectorAll(NUMBERS)) e.textContent = e.textContent!.replaceAll(',', '.');
  }
  const materials = new Set(Array.from(document.querySelectorAll('library_materials > material'), (m) => `#${m.getAttribute('id')}`));
  for (const use of [...document.querySelectorAll('instance_material')]) if (!materials.has(use.getAttribute('target') ?? '')) use.remove();
  return [...document.querySelectorAll('image')].map((image, n) => {
    const from = image.querySelector('init_from');
    const address = from?.textContent?.trim() ?? '';
    if (from) from.textContent = `picture-${n}.png`;
    return address;
  });
}
