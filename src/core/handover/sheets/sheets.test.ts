import { describe, expect, it } from 'vitest';
import type { View } from '../../camera/view.js';
import { captionProblem, contactSheet, fillCaption } from './contact.js';
import { changesSheet } from './changes.js';
import type { Sheet, SheetImage, SheetItem, SheetText } from './page.js';
import { PAPERS, type SheetOptions } from './paper.js';
import { evenly, stripSheet } from './strips.js';
import { sunStudySheet } from './sunStudy.js';
import { variantBoard } from './variantBoard.js';
import { viewListSheet } from './viewList.js';

const options: SheetOptions = { paper: 'A4', across: false, columns: 3, title: 'Landing', facts: 'revision A' };
const images = <P>(page: readonly SheetItem<P>[]): SheetImage<P>[] => page.filter((i): i is SheetImage<P> => i.kind === 'image');
const texts = (page: readonly SheetItem<unknown>[]): string[] => page.filter((i): i is SheetText => i.kind === 'text').map((t) => t.text);

/** Nothing lies on anything else of its kind, and all of it is on the page. */
function expectInOrder({ width, height, pages }: Sheet<unknown>): void {
  for (const page of pages) {
    const boxes = images(page);
    for (const { x, y, width: w, height: h } of boxes) {
      expect([x >= 0, y >= 0, x + w <= width + 1e-9, y + h <= height + 1e-9, w > 5, h > 5]).toEqual([true, true, true, true, true, true]);
    }
    for (const [i, a] of boxes.entries())
      for (const b of boxes.slice(i + 1))
        expect(a.x + a.width <= b.x + 1e-9 || b.x + b.width <= a.x + 1e-9 || a.y + a.height <= b.y + 1e-9 || b.y + b.height <= a.y + 1e-9).toBe(true);
  }
}

describe('a contact sheet', () => {
  const renders = Array.from({ length: 40 }, (_, i) => ({ picture: i, caption: `render ${i}` }));

  it.each([
    ['A4', false, 3, 16 / 9],
    ['A3', true, 5, 1],
    ['A1', false, 2, 0.5],
    ['screen', true, 4, 16 / 9],
  ] as const)('on %s holds every render once, in their order', (paper, across, columns, aspect) => {
    const sheet = contactSheet(renders, { ...options, paper, across, columns }, aspect);
    const [short, long] = PAPERS[paper];
    expect([sheet.width, sheet.height]).toEqual(across ? [long, short] : [short, long]);
    expect(sheet.pages.flatMap((p) => images(p).map((i) => i.picture))).toEqual(renders.map((r) => r.picture));
    expectInOrder(sheet);
    expect(sheet.pages.every((p, i) => texts(p).includes(`revision A · ${i + 1} / ${sheet.pages.length}`))).toBe(true);
  });

  it.each([
    // A3 across has 396 mm between its margins: five of 70 mm with four gaps of 5 mm, two of 140, one of a thousand.
    [70, 5, 70],
    [140, 2, 140],
    [1000, 1, 396],
  ])('by a render width of %d mm has %d side by side, %d mm wide', (renderWidth, columns, wide) => {
    const sheet = contactSheet(renders, { ...options, paper: 'A3', across: true, columns: 4, renderWidth }, 16 / 9);
    const [first] = sheet.pages.map(images);
    expect(first!.filter((i) => i.y === first![0]!.y)).toHaveLength(columns);
    expect(first![0]!.width).toBeCloseTo(wide, 9);
    expectInOrder(sheet);
  });

  it('has captions by a pattern, without dots beside what a render does not have', () => {
    const words = { shot: 'Spin', view: 'Front', variant: '', revision: 'B', frame: '0012', timecode: '', size: '64 × 36', date: '', time: '' };
    expect(fillCaption('{shot} · {variant} · {date} · rev {revision}', words)).toBe('Spin · rev B');
    expect(fillCaption('{variant} · {frame} ({size}) · {timecode}', words)).toBe('0012 (64 × 36)');
    expect(captionProblem('{shot}, {lens}')).toMatch(/^\{lens\} is no token; use \{shot\}, \{view\}, /);
    expect(captionProblem('Own words, {shot}')).toBeNull();
  });

  it('has a page with its title where there is nothing', () => {
    expect(contactSheet([], options, 1).pages.map(texts)).toEqual([['Landing', 'revision A · 1 / 1']]);
  });
});

describe('a sun study', () => {
  const days = ['2026-03-20', '2026-06-21', '2026-12-21'];
  const renders = (hours: number[]) =>
    days.flatMap((date) =>
      hours
        // In winter the sun is up for a few hours only.
        .filter((h) => date !== '2026-12-21' || (h > 9 && h < 15))
        .map((h) => ({
          picture: `${date} ${h}`,
          of: 'Study · Quay',
          date,
          time: `${String(h).padStart(2, '0')}:00`,
          altitude: h,
          azimuth: h * 15,
          aspect: 16 / 9,
        })),
    );

  it('has dates down and hours across, and leaves a gap where the sun was down', () => {
    const sheet = sunStudySheet(renders([8, 10, 12, 14, 16]), { ...options, across: true });
    expectInOrder(sheet);
    const [page] = sheet.pages;
    const at = new Map(images(page!).map((i) => [i.picture, i]));
    expect(at.size).toBe(13);
    for (const date of days) expect(at.get(`${date} 12`)!.x).toBe(at.get('2026-03-20 12')!.x);
    for (const h of [10, 14]) expect(at.get(`2026-12-21 ${h}`)!.y).toBe(at.get('2026-12-21 12')!.y);
    expect(at.get('2026-06-21 8')!.y).toBeGreaterThan(at.get('2026-03-20 8')!.y);
    expect(texts(page!)).toEqual(expect.arrayContaining(['08:00', '16:00', '2026-12-21', '12.0° up, 180°']));
  });

  it('goes on below where a day has more hours than there is room for, and on further pages', () => {
    const sheet = sunStudySheet(renders(Array.from({ length: 20 }, (_, i) => i + 2)), options);
    expectInOrder(sheet);
    expect(sheet.pages.flatMap((p) => images(p)).length).toBe(20 + 20 + 5);
    expect(new Set(images(sheet.pages[0]!).map((i) => Math.round(i.x))).size).toBeLessThan(8);
  });
});

describe('strips of moving shots', () => {
  const frames = Array.from({ length: 12 }, (_, i) => ({ picture: i, number: String(i + 1), time: `00:00:00:${i}` }));

  it('show each shot from its first to its last frame', () => {
    const shots = ['Turntable', 'Walk', 'Section', 'Rise', 'Turn back', 'Fall', 'Last'].map((name) => ({ name, facts: '24 fps', aspect: 1, frames }));
    const sheet = stripSheet(shots, options);
    expectInOrder(sheet);
    expect(sheet.pages.length).toBeGreaterThan(1);
    const pictures = sheet.pages.flatMap((p) => images(p).map((i) => i.picture));
    expect(pictures.slice(0, 6)).toEqual([0, 2, 4, 7, 9, 11]);
    expect(sheet.pages.flatMap(texts).filter((t) => shots.some((s) => s.name === t))).toEqual(shots.map((s) => s.name));
  });

  it('take frames evenly', () => {
    expect(evenly([1, 2, 3], 5)).toEqual([1, 2, 3]);
    expect(
      evenly(
        frames.map((f) => f.picture),
        1,
      ),
    ).toEqual([0]);
    expect(
      evenly(
        Array.from({ length: 101 }, (_, i) => i),
        5,
      ),
    ).toEqual([0, 25, 50, 75, 100]);
  });
});

it('a variant board has views down and variants across, also where one is missing', () => {
  const renders = ['Oak', 'Ash', 'Pine', 'Larch'].flatMap((variant) =>
    ['Front', 'Side'].filter((of) => variant !== 'Pine' || of === 'Front').map((of) => ({ of, variant, picture: `${of} ${variant}`, aspect: 4 / 3 })),
  );
  const sheet = variantBoard(renders, options);
  expectInOrder(sheet);
  // Four variants in three columns: the last on a page of its own.
  expect(sheet.pages.map((p) => images(p).map((i) => i.picture))).toEqual([
    ['Front Oak', 'Front Ash', 'Front Pine', 'Side Oak', 'Side Ash'],
    ['Front Larch', 'Side Larch'],
  ]);
  const at = new Map(images(sheet.pages[0]!).map((i) => [i.picture, i]));
  expect(at.get('Side Ash')!.x).toBe(at.get('Front Ash')!.x);
});

describe('a list of views', () => {
  const view = (name: string, eye: [number, number, number], more: Partial<View> = {}): View => ({
    id: name,
    name,
    kind: 'perspective',
    eye,
    target: [0, 1, 0],
    focalLength: 35,
    keepVerticals: false,
    ...more,
  });
  const views = [
    view('Quay', [0, 1.6, 12]),
    view('Far', [30, 2, 0]),
    view('Above', [0, 20, 0.0001]),
    view('Parallel', [5, 2, 5], { kind: 'parallel', width: 4 }),
  ];
  const content = {
    plan: 'plan',
    bounds: { min: [-4, 0, -2] as [number, number, number], max: [4, 3, 2] as [number, number, number] },
    size: { width: 160, height: 90 },
    pixelAspect: 1,
    views: views.map((v) => ({ view: v, picture: v.name })),
  };

  it.each([true, false])('across %s: has every view with its lens, and its cone from where it stands', (across) => {
    const sheet = viewListSheet(content, { ...options, paper: 'A3', across });
    expect(sheet.pages).toHaveLength(1);
    expectInOrder(sheet);
    const [page] = sheet.pages;
    expect(images(page!).map((i) => i.picture)).toEqual(['plan', 'Quay', 'Far', 'Above', 'Parallel']);
    expect(texts(page!)).toEqual(expect.arrayContaining(['35 mm', 'parallel, 4.00 m across', 'eye 0.00, 1.60, 12.00 m']));
    // The plan shows twelve metres across; an eye stands as far from its middle as it is there.
    const plan = images(page!)[0]!;
    const scale = plan.width / 12;
    const [quay] = page!.filter((i) => i.kind === 'path' && i.fill !== undefined);
    if (quay?.kind !== 'path') throw new Error('There is no cone.');
    const [eye] = quay.points;
    expect(eye![0]).toBeCloseTo(plan.x + plan.width / 2, 6);
    expect(eye![1] - (plan.y + plan.height / 2)).toBeCloseTo(12 * scale, 6);
  });
});

it('what changed has both sides of each shot, and says where nothing did', () => {
  const shot = { changed: 0.5, ssim: 0.9, largest: 12, areas: 1 };
  const sheet = changesSheet(
    [
      { ...shot, name: 'Front', pictures: ['a', 'b'], parts: Array.from({ length: 10 }, (_, i) => `part ${i}`) },
      { ...shot, name: 'Side', pictures: ['c', 'd'], areas: 0, parts: [] },
    ],
    { title: 'Changes', facts: 'A to B', sides: ['Revision A', 'Revision B'] },
  );
  expectInOrder(sheet);
  expect(texts(sheet.pages[0]!)).toEqual(
    expect.arrayContaining([
      'Revision A',
      '50.0 % of the area changed',
      '1 area · SSIM 0.900',
      expect.stringMatching(/ and 2 more$/),
      'No part changed.',
    ]),
  );
});
