/**
 * The cameras and turns of a plan as USD in its text form (Alliance for OpenUSD, UsdGeom schemas): metres, Y up. A camera
 * a view, and one a moving shot with a time sample a frame; what turns is an empty transform under which a model is hung.
 * USD knows no panorama: those are left out.
 */
import { mat4 } from 'gl-matrix';
import { turnMatrix } from '../camera/view.js';
import { groupByShotOutput, type Frame, shotIdOfOutput } from '../frame/frame.js';
import { identity, matrixOf } from '../math/matrix.js';
import { outputName, type SetFile } from '../plan/set.js';
import { isMoving } from '../shots/kinds.js';
import { parseRate, rateValue } from '../units/rate.js';

/** Focal lengths and apertures are in tenths of a unit, and the unit is a metre. */
const TENTHS = 10;
const NEAR = 0.01;
const FAR = 100_000;

const number = (v: number): string => String(Number(v.toFixed(9)));
const text = (v: string): string => `"${v.replace(/["\\]/g, '\\$&').replace(/\s+/g, ' ')}"`;
/** Rows of a matrix for row vectors, which are the columns of ours. */
const matrix = (m: ArrayLike<number>): string =>
  `( ${[0, 4, 8, 12].map((row) => `(${[0, 1, 2, 3].map((c) => number(m[row + c]!)).join(', ')})`).join(', ')} )`;

/** Names as USD takes them: letters, digits and underscores, each once. */
class PrimNames {
  private readonly taken = new Set<string>();

  of(name: string): string {
    const plain = name
      .normalize('NFD')
      .replace(/[^A-Za-z0-9_]+/g, '_')
      .replace(/^(?=\d|$)/, '_');
    for (let n = 1; ; n++) {
      const tried = n === 1 ? plain : `${plain}_${n}`;
      if (this.taken.has(tried)) continue;
      this.taken.add(tried);
      return tried;
    }
  }
}

/** A value of each frame: one where they are all alike. @param codes time codes of the frames. */
function sampled(type: string, name: string, values: readonly string[], codes: readonly number[]): string[] {
  if (values.every((v) => v === values[0])) return [`${type} ${name} = ${values[0]!}`];
  return [`${type} ${name}.timeSamples = {`, ...values.map((v, i) => `    ${number(codes[i]!)}: ${v},`), '}'];
}

/** The picture's window at the lens, in tenths of a unit; of a parallel view what it shows. */
function windowOf({ camera: { kind, projectionMatrix: p, focalLength } }: Frame): { width: number; height: number; across: number; up: number } {
  const factor = kind === 'parallel' ? 2 : (2 * focalLength) / 1000;
  const [width, height] = [(factor / p[0]!) * TENTHS, (factor / p[5]!) * TENTHS];
  return kind === 'parallel' ? { width, height, across: 0, up: 0 } : { width, height, across: (p[8]! * width) / 2, up: (p[9]! * height) / 2 };
}

function cameraPrim(prim: string, label: string, frames: readonly Frame[], codes: readonly number[]): string[] {
  const each = (type: string, name: string, value: (frame: Frame) => string): string[] => sampled(type, name, frames.map(value), codes);
  const of = (value: (frame: Frame) => number) => (frame: Frame) => number(value(frame));
  const first = frames[0]!.camera;
  const { lens } = first;
  const lines = [
    `token projection = "${first.kind === 'parallel' ? 'orthographic' : 'perspective'}"`,
    ...each(
      'float',
      'focalLength',
      of((f) => (f.camera.focalLength / 1000) * TENTHS),
    ),
    ...each(
      'float',
      'horizontalAperture',
      of((f) => windowOf(f).width),
    ),
    ...each(
      'float',
      'verticalAperture',
      of((f) => windowOf(f).height),
    ),
    ...each(
      'float',
      'horizontalApertureOffset',
      of((f) => windowOf(f).across),
    ),
    ...each(
      'float',
      'verticalApertureOffset',
      of((f) => windowOf(f).up),
    ),
    ...each('float2', 'clippingRange', (f) => `(${number(Math.max(NEAR, f.camera.nearClipping ?? 0))}, ${FAR})`),
    ...(lens
      ? [
          ...each(
            'float',
            'fStop',
            of((f) => f.camera.focalLength / 1000 / (2 * f.camera.lens!.radius)),
          ),
          ...each(
            'float',
            'focusDistance',
            of((f) => f.camera.lens!.focus),
          ),
        ]
      : []),
    ...each('matrix4d', 'xformOp:transform', (f) => matrix(mat4.invert(identity(), matrixOf(f.camera.viewMatrix))!)),
    'uniform token[] xformOpOrder = ["xformOp:transform"]',
  ];
  return [`def Camera "${prim}" (`, `    displayName = ${text(label)}`, ')', '{', ...lines.map((l) => `    ${l}`), '}'];
}

/** What turns in a shot, about its pivot. */
function turnPrim(prim: string, label: string, frames: readonly Frame[], codes: readonly number[]): string[] {
  const values = frames.map(({ turn }) => matrix(turnMatrix(turn!, turn!.rotation)));
  const lines = [...sampled('matrix4d', 'xformOp:transform', values, codes), 'uniform token[] xformOpOrder = ["xformOp:transform"]'];
  return [`def Xform "${prim}" (`, `    displayName = ${text(label)}`, ')', '{', ...lines.map((l) => `    ${l}`), '}'];
}

/** A plan as `.usda`; time code 1 is the first frame of every shot, at the rate of the format sheet. */
export function planUsda(set: SetFile, frames: Frame[]): string {
  const names = new PrimNames();
  const fps = rateValue(parseRate(set.sheet.rate));
  const prims: string[][] = [];
  const views = new Set<string>();
  let last = 1;
  for (const [run, all] of groupByShotOutput(frames)) {
    // A camera has no pixels: further sizes and variants of a shot would only double it.
    if (run !== shotIdOfOutput(run)) continue;
    const own = all.filter((f) => f.camera.kind !== 'panorama');
    if (own.length === 0) continue;
    if (!isMoving(own[0]!.kind)) {
      for (const frame of own) {
        if (views.has(frame.view)) continue;
        views.add(frame.view);
        const label = set.views.find((v) => v.id === frame.view)?.name ?? frame.view;
        prims.push(cameraPrim(names.of(label), label, [frame], [1]));
      }
      continue;
    }
    const codes = own.map((f) => 1 + f.time * fps);
    last = Math.max(last, codes.at(-1)!);
    const label = outputName(set, run);
    prims.push(cameraPrim(names.of(label), label, own, codes));
    if (own[0]!.turn?.what.includes('subject')) prims.push(turnPrim(names.of(`${label} subject`), `${label} subject`, own, codes));
  }
  const head = [
    '#usda 1.0',
    '(',
    '    defaultPrim = "Plan"',
    `    doc = ${text(set.name)}`,
    '    metersPerUnit = 1',
    '    upAxis = "Y"',
    `    timeCodesPerSecond = ${number(fps)}`,
    `    framesPerSecond = ${number(fps)}`,
    '    startTimeCode = 1',
    `    endTimeCode = ${number(last)}`,
    ')',
    '',
    'def Xform "Plan"',
    '{',
  ];
  return `${[...head, ...prims.flatMap((p, i) => [...(i > 0 ? [''] : []), ...p.map((l) => `    ${l}`)]), '}'].join('\n')}\n`;
}
