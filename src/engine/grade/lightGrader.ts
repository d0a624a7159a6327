/** Grades the light of one render again and again by the kernel's loops, with the numbers that files are written with. */
import * as L from '../../../kernel/layout.js';
import { type ColourTable, decodeTable3d } from '../../core/image/colourTable.js';
import { exposureMatrix, type Grade } from '../../core/image/grade.js';
import { displayTable, ratioTable } from '../../core/image/gradeTables.js';
import { Arena, instantiate, type Kernel, makeMemory } from '../kernel.js';

/** The kernel's own numbers lie below. */
const BEGIN = 1024;
const IDENTITY = [1, 0, 0, 0, 1, 0, 0, 0, 1];
/** Pixels that are graded at once. */
const LANES = 4;

interface Places {
  record: number;
  /** Red, green, blue and alpha. */
  planes: readonly [number, number, number, number];
  ratio: number;
  display: number;
  table: number;
  out: number;
}

/** Grades light that was laid into its memory once. */
export class LightGrader {
  private memory: WebAssembly.Memory | null = null;
  private kernel: Kernel | null = null;
  private places: Places | null = null;
  private count = 0;
  /** Numbers of a colour table that there is room for. */
  private entries = 0;
  /** The colour table that was read last, by its text. */
  private table: { values: string; table: ColourTable } | null = null;

  constructor(private readonly module: WebAssembly.Module) {}

  /**
   * Takes the light that is graded from now on. Throws an Error where memory is short.
   * @param colour linear and straight, three a pixel. @param alpha 0..1; null where all is opaque.
   */
  load(colour: Float32Array, alpha: Float32Array | null): void {
    const count = colour.length / 3;
    if (count !== this.count || !this.places) this.layOut(count, this.entries);
    const { planes } = this.places!;
    const [r, g, b] = planes.slice(0, 3).map((at) => new Float32Array(this.memory!.buffer, at, count)) as [Float32Array, Float32Array, Float32Array];
    for (let i = 0, from = 0; i < count; i++, from += 3) {
      r[i] = colour[from]!;
      g[i] = colour[from + 1]!;
      b[i] = colour[from + 2]!;
    }
    const words = new Uint32Array(this.memory!.buffer, planes[3], count);
    for (let i = 0; i < count; i++) words[i] = (alpha ? Math.round(255 * Math.min(1, Math.max(0, alpha[i]!))) : 255) << 24;
  }

  /**
   * RGBA bytes of the light, as core/image/grade.ts displays it, within 1/255. Mix, lines, noise and glare are not of its work.
   * @param exposed whether exposure and white balance are in the light already.
   */
  grade(grade: Grade, exposed = false): Uint8ClampedArray<ArrayBuffer> {
    const { saturation = 1 } = grade;
    const table = grade.table && this.decoded(grade.table);
    if (table && table.values.length > this.entries) this.grow(table.values.length);
    const { record, planes, ratio, display, table: tableAt, out } = this.places!;
    const { buffer } = this.memory!;
    const [f32, u32] = [new Float32Array(buffer), new Uint32Array(buffer)];
    const put = (array: Float32Array | Uint32Array, field: number, ...values: number[]): void => array.set(values, (record + field) / 4);
    f32.set(ratioTable(grade.curve, L.GRADE_RATIO_CELLS), ratio / 4);
    f32.set(displayTable(grade, L.GRADE_DISPLAY_CELLS), display / 4);
    if (table) f32.set(table.values, tableAt / 4);
    const { matrix, floor } = exposed ? { matrix: IDENTITY, floor: -Infinity } : exposureMatrix(grade);
    put(u32, L.GRADE_RED, ...planes);
    put(f32, L.GRADE_MATRIX, ...matrix, floor);
    put(u32, L.GRADE_RATIO, ratio, display);
    put(f32, L.GRADE_SATURATION, saturation);
    put(u32, L.GRADE_TABLE, table ? tableAt : 0, table ? table.side : 0);
    put(f32, L.GRADE_TABLE_SHARE, grade.table?.share ?? 0);
    this.kernel!.gradePixels(record, Math.ceil(this.count / LANES) * LANES, out);
    const bytes = new Uint8ClampedArray(4 * this.count);
    bytes.set(new Uint8ClampedArray(buffer, out, 4 * this.count));
    return bytes;
  }

  private decoded({ side, values }: NonNullable<Grade['table']>): ColourTable {
    if (this.table?.values !== values) this.table = { values, table: decodeTable3d(side, values) };
    return this.table.table;
  }

  /** Makes room for a larger colour table; the light stays. */
  private grow(entries: number): void {
    const { planes } = this.places!;
    const kept = planes.map((at) => new Uint8Array(this.memory!.buffer, at, 4 * this.count).slice());
    this.layOut(this.count, entries);
    kept.forEach((bytes, i) => new Uint8Array(this.memory!.buffer).set(bytes, this.places!.planes[i as 0]));
  }

  private layOut(count: number, entries: number): void {
    const arena = new Arena(BEGIN);
    const plane = 4 * Math.ceil(count / LANES) * LANES;
    const places: Places = {
      record: arena.take(L.GRADE_BYTES),
      planes: [arena.take(plane), arena.take(plane), arena.take(plane), arena.take(plane)],
      ratio: arena.take(4 * (L.GRADE_RATIO_CELLS + 2)),
      display: arena.take(4 * (L.GRADE_DISPLAY_CELLS + 2)),
      table: arena.take(4 * entries),
      out: arena.take(plane),
    };
    if (!this.memory || arena.at > this.memory.buffer.byteLength) {
      this.memory = makeMemory(arena.at);
      this.kernel = instantiate(this.module, this.memory);
    }
    // Last, so that what failed for want of memory is tried again.
    this.places = places;
    this.count = count;
    this.entries = entries;
  }
}
