/** Sheets as files: the PDF is read by another library, the PNG by its pixels. */
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import sharp, { type Sharp } from 'sharp';
import { describe, expect, it } from 'vitest';
import type { Sheet } from '../../core/handover/sheets/page.js';
import { parseHTML } from 'linkedom';
import { sheetHtml } from './sheetHtml.js';
import { sheetPdf } from './sheetPdf.js';
import { linesOf, sheetPngs } from './sheetPng.js';

const sheet: Sheet<string> = {
  width: 100,
  height: 60,
  title: 'Two pages',
  pages: [
    [
      { kind: 'image', picture: '#ff0000', x: 10, y: 10, width: 40, height: 30 },
      {
        kind: 'path',
        points: [
          [60, 10],
          [90, 10],
          [90, 40],
        ],
        colour: 'blue',
        width: 0.5,
        fill: 1,
      },
      { kind: 'text', text: 'Waiting room, 21 June – 14:00', x: 10, y: 45, width: 80, font: 'words', size: 9 },
    ],
    [{ kind: 'text', text: 'A sentence that is far longer than its box is wide', x: 10, y: 10, width: 30, font: 'title', size: 12, lines: 2 }],
  ],
};
const open = (colour: string): Promise<Sharp> => Promise.resolve(sharp({ create: { width: 80, height: 60, channels: 3, background: colour } }).png());

describe('a sheet as PDF', () => {
  it('has pages of its size, words that are found, and fonts in the file', async () => {
    const bytes = await sheetPdf(sheet, open);
    const pdf = await getDocument({ data: new Uint8Array(bytes), useSystemFonts: false }).promise;
    expect(pdf.numPages).toBe(2);
    const page = await pdf.getPage(1);
    expect(page.view.slice(2).map((v) => Math.round((v * 25.4) / 72))).toEqual([100, 60]);
    const words = async (n: number): Promise<string> => {
      const { items } = await (await pdf.getPage(n)).getTextContent();
      return items.map((i) => ('str' in i ? i.str : '')).join(' ');
    };
    expect(await words(1)).toContain('Waiting room, 21 June – 14:00');
    expect(await words(2)).toMatch(/^A sentence .*…/);
    expect(bytes.toString('latin1')).toContain('/FontFile');
  });
});

describe('a sheet as HTML', () => {
  it('has a page of its size for each, with text, images and shapes in their places, and asks for nothing outside it', async () => {
    const text = await sheetHtml({ ...sheet, title: 'A < B & "C"' }, open);
    const { document } = parseHTML(text);
    expect(document.title).toBe('A < B & "C"');
    const [first, second, ...more] = document.querySelectorAll('section');
    expect(more).toEqual([]);
    expect(text).toContain('section{position:relative;width:100mm;height:60mm;');
    const words = first!.querySelector('p')!;
    expect(words.textContent).toBe('Waiting room, 21 June – 14:00');
    expect(words.getAttribute('style')).toMatch(/^left:10mm;top:45mm;width:80mm;.*font-size:9pt;/);
    expect(second!.querySelector('p')!.getAttribute('style')).toContain('-webkit-line-clamp:2');
    const image = first!.querySelector('img')!;
    expect(image.getAttribute('style')).toMatch(/^left:10mm;top:10mm;width:40mm;height:30mm;/);
    const { data, info } = await sharp(Buffer.from(image.getAttribute('src')!.split(',')[1]!, 'base64'))
      .raw()
      .toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([80, 60]);
    expect([data[0]! > 250, data[1]! < 5]).toEqual([true, true]);
    expect(first!.querySelector('polygon')!.getAttribute('points')).toBe('60,10 90,10 90,40');
    // What lies over what: images, shapes, words.
    expect([...first!.children].map((e) => e.tagName.toLowerCase())).toEqual(['img', 'svg', 'p']);
    const addresses = [...text.matchAll(/(?:src="|href="|url\()([^)"]{5})/g)].map((m) => m[1]);
    expect(addresses.length).toBeGreaterThan(3);
    expect(new Set(addresses)).toEqual(new Set(['data:']));
  });
});

describe('a sheet as PNG', () => {
  it('has an image a page at 150 pixels an inch, with pictures, shapes and words where they belong', async () => {
    const pages = await sheetPngs(sheet, open);
    expect(pages).toHaveLength(2);
    const { data, info } = await sharp(pages[0]).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    expect([info.width, info.height]).toEqual([Math.round((100 / 25.4) * 150), Math.round((60 / 25.4) * 150)]);
    expect((await sharp(pages[0]).metadata()).density).toBe(150);
    const at = (mmX: number, mmY: number): number[] => {
      const o = (Math.round((mmY / 25.4) * 150) * info.width + Math.round((mmX / 25.4) * 150)) * 3;
      return [...data.subarray(o, o + 3)];
    };
    expect(at(30, 25)).toEqual([255, 0, 0]);
    expect(at(5, 5)).toEqual([255, 255, 255]);
    expect(at(85, 15)).toEqual([0x2f, 0x5d, 0x8c]);
    // Letters are dark on white, within their box alone.
    const dark = (y0: number, y1: number): number => {
      let n = 0;
      for (let y = y0; y < y1; y += 0.1) for (let x = 10; x < 90; x += 0.1) n += at(x, y)[0]! < 100 ? 1 : 0;
      return n;
    };
    expect(dark(45, 49.5)).toBeGreaterThan(200);
    expect(dark(51, 58)).toBe(0);
  });

  it('breaks words into lines, and ends the last in an ellipsis where more would follow', () => {
    const widthOf = (text: string): number => text.length;
    expect(linesOf('one two three four', 8, 3, widthOf)).toEqual(['one two', 'three', 'four']);
    expect(linesOf('one two three four', 8, 2, widthOf)).toEqual(['one two', 'three…']);
    expect(linesOf('uninterrupted', 6, 1, widthOf)).toEqual(['unint…']);
    expect(linesOf('', 6, 1, widthOf)).toEqual(['']);
  });
});
