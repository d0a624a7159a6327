/** Reads DXF drawings through dxf-parser: lines, curves, faces and blocks, by layers. */
import { fileStem } from '../../core/model/fileExtensions.js';
import DxfParser, { type IBlock, type IDxf, type IEntity, type IInsertEntity } from 'dxf-parser';
import { mat4, vec3 } from 'gl-matrix';
import { BufferGeometry, Float32BufferAttribute } from 'three';
import { pluralize } from '../../core/base/pluralize.js';
import type { Vec3 } from '../../core/math/bounds.js';
import { parseHex } from '../../core/units/colour.js';
import type { Model } from '../../core/model/model.js';
import { type LengthUnit, METRES } from '../../core/units/length.js';
import { ModelError, type ReadOptions, type SourceFile, textOf } from '../format.js';
import { isAligned, ModelBuilder, toMetres } from '../modelBuilder.js';
import { droppedWarning } from '../degenerate.js';
import { meshOf } from '../normals.js';
import { polylinePoints } from '../part21/curves.js';
import { assumedUnitsNote, leftOut, listNames } from '../report.js';
import { withDomShim } from '../scene/domShim.js';
import { isUnseen, shapeOf } from './shapes.js';
import { tidied } from './text.js';

/** Units by their numbers in $INSUNITS (DXF Reference; from memory). */
const UNITS: Readonly<Record<number, LengthUnit>> = { 1: 'in', 2: 'ft', 4: 'mm', 5: 'cm', 6: 'm', 7: 'km' };
/** Entities with those in blocks, at most: blocks within blocks multiply. */
const MAX_ENTITIES = 2_000_000;
const MAX_DEPTH = 32;
/** Colours that stand for those of the block or of the layer. */
const BY_BLOCK = 0;
const BY_LAYER = 256;

/** Lines and corners of one layer, in the drawing's numbers. */
interface Drawn {
  points: number[];
  /** By their colour. */
  corners: Map<number, number[]>;
}

/** From an entity's own plane to the drawing, by the direction that it is extruded in (the arbitrary axis algorithm). */
function planeOf(entity: IEntity): mat4 | null {
  const e = entity as Partial<Record<'extrusionDirectionX' | 'extrusionDirectionY' | 'extrusionDirectionZ', number>> & Partial<IInsertEntity>;
  const { x = 0, y = 0, z = 1 } = e.extrusionDirection ?? { x: e.extrusionDirectionX, y: e.extrusionDirectionY, z: e.extrusionDirectionZ };
  // Lines and faces are stated in the drawing's own numbers.
  if (['LINE', '3DFACE', 'SPLINE', 'ELLIPSE'].includes(entity.type) || (x === 0 && y === 0 && z === 1)) return null;
  const n = vec3.normalize(vec3.create(), [x, y, z]);
  const across = vec3.cross(vec3.create(), Math.abs(n[0]) < 1 / 64 && Math.abs(n[1]) < 1 / 64 ? [0, 1, 0] : [0, 0, 1], n);
  vec3.normalize(across, across);
  const up = vec3.cross(vec3.create(), n, across);
  return mat4.fromValues(across[0], across[1], across[2], 0, up[0], up[1], up[2], 0, n[0], n[1], n[2], 0, 0, 0, 0, 1);
}

class Drawing {
  readonly layers = new Map<string, Drawn>();
  readonly unknown = new Map<string, number>();
  readonly lostBlocks = new Set<string>();
  paper = 0;
  hidden = 0;
  thick = 0;
  private entities = 0;

  constructor(
    private readonly file: IDxf,
    private readonly name: string,
  ) {}

  private layer(name: string): Drawn {
    let layer = this.layers.get(name);
    if (!layer) this.layers.set(name, (layer = { points: [], corners: new Map() }));
    return layer;
  }

  private colourOf(entity: IEntity, layer: string, inherited: number | null): number {
    const { colorIndex, color } = entity;
    if (colorIndex === BY_BLOCK && inherited !== null) return inherited;
    if (color !== undefined && colorIndex !== BY_BLOCK && colorIndex !== BY_LAYER) return color;
    return this.file.tables?.layer?.layers[layer]?.color ?? 0xffffff;
  }

  private refuse(): never {
    throw new ModelError(`"${this.name}" has more than ${MAX_ENTITIES.toLocaleString('en')} entities with those in its blocks; export a part of it.`);
  }

  /** Adds entities at a place; those of layer 0 in a block take the layer that the block is put on. */
  add(entities: readonly IEntity[], place: mat4, on: string | null, inherited: number | null, depth: number): void {
    for (const entity of entities) {
      if (++this.entities > MAX_ENTITIES) this.refuse();
      if (entity.inPaperSpace) {
        this.paper++;
        continue;
      }
      if (isUnseen(entity.type)) continue;
      if (entity.visible === false) {
        this.hidden++;
        continue;
      }
      const layer = entity.layer === undefined || (entity.layer === '0' && on !== null) ? (on ?? '0') : entity.layer;
      const colour = this.colourOf(entity, layer, inherited);
      const plane = planeOf(entity);
      const own = plane ? mat4.multiply(mat4.create(), place, plane) : place;
      if (entity.type === 'INSERT') this.insert(entity as IInsertEntity, own, layer, colour, depth);
      else if (entity.type === 'DIMENSION' && (entity as { block?: string }).block !== undefined)
        this.block((entity as { block?: string }).block, place, layer, colour, depth);
      else this.draw(entity, own, layer, colour);
    }
  }

  private draw(entity: IEntity, place: mat4, layer: string, colour: number): void {
    const shape = shapeOf(entity);
    if (!shape) {
      this.unknown.set(entity.type, (this.unknown.get(entity.type) ?? 0) + 1);
      return;
    }
    const { thickness = 0, depth = 0 } = entity as { thickness?: number; depth?: number };
    if (thickness || depth) this.thick++;
    const moved = (p: Vec3): Vec3 => vec3.transformMat4(vec3.create(), p, place) as Vec3;
    const drawn = this.layer(layer);
    for (const value of polylinePoints(shape.chains.map((chain) => chain.map(moved)))) drawn.points.push(value);
    if (shape.corners.length === 0) return;
    const corners = drawn.corners.get(colour) ?? [];
    for (const p of shape.corners) corners.push(...moved(p));
    drawn.corners.set(colour, corners);
  }

  private insert(entity: IInsertEntity, place: mat4, layer: string, colour: number, depth: number): void {
    const { position, rotation = 0, xScale = 1, yScale = 1, zScale = 1, columnCount = 1, rowCount = 1, columnSpacing = 0, rowSpacing = 0 } = entity;
    if (rowCount * columnCount > MAX_ENTITIES) this.refuse();
    for (let row = 0; row < Math.max(1, rowCount); row++)
      for (let column = 0; column < Math.max(1, columnCount); column++) {
        const own = mat4.translate(mat4.create(), place, [position?.x ?? 0, position?.y ?? 0, position?.z ?? 0]);
        mat4.rotateZ(own, own, (rotation * Math.PI) / 180);
        mat4.translate(own, own, [column * columnSpacing, row * rowSpacing, 0]);
        this.block(entity.name, mat4.scale(own, own, [xScale, yScale, zScale]), layer, colour, depth);
      }
  }

  private block(name: string | undefined, place: mat4, layer: string, colour: number, depth: number): void {
    const block: IBlock | undefined = name === undefined ? undefined : this.file.blocks?.[name];
    if (!block || block.xrefPath || depth >= MAX_DEPTH) {
      if (name !== undefined) this.lostBlocks.add(block?.xrefPath || name);
      return;
    }
    const { x = 0, y = 0, z = 0 } = block.position ?? {};
    this.add(block.entities ?? [], mat4.translate(mat4.create(), place, [-x, -y, -z]), layer, colour, depth + 1);
  }
}

/** Entities that the library knows nothing of, by their kinds: it passes over them. */
function countUnknown(text: string, into: Map<string, number>): void {
  for (const [, kind] of text.matchAll(
    /^[ \t]*0[ \t]*\r?\n[ \t]*(HATCH|3DSOLID|BODY|REGION|SURFACE|MESH|MLINE|LEADER|MULTILEADER|IMAGE|WIPEOUT|HELIX|RAY|XLINE|TRACE)[ \t]*\r?$/gm,
  ))
    into.set(kind!, (into.get(kind!) ?? 0) + 1);
}

/** Reads a drawing. @throws where it is cut short or holds nothing to see. */
export function read(file: SourceFile, options: ReadOptions): Model {
  const text = textOf(file.bytes);
  if (!/^[ \t]*0[ \t]*\r?\n[ \t]*EOF\s*$/m.test(text.slice(-200)))
    throw new ModelError(`"${file.name}" is cut short: its last section does not end. Export or copy it again.`);
  const parsed = withDomShim(() => new DxfParser().parseSync(tidied(text)));
  if (!parsed) throw new ModelError(`"${file.name}" holds no drawing; export it again.`);
  const drawing = new Drawing(parsed, file.name);
  drawing.add(parsed.entities, mat4.create(), null, null, 0);
  countUnknown(text, drawing.unknown);
  const gather = new ModelBuilder();
  const stated = UNITS[Number(parsed.header?.$INSUNITS)];
  const unit = stated ?? options.asked?.unit ?? 'mm';
  // A drawing's own heights are along +Z (common practice, no source).
  const up = options.asked?.up ?? 'z';
  if (!stated && !options.asked?.unit) gather.warnings.add(assumedUnitsNote(unit, null));
  const scale = METRES[unit];
  const root = gather.part(fileStem(file.name), -1);
  let dropped = 0;
  for (const [name, { points, corners }] of drawing.layers) {
    const layer = parsed.tables?.layer?.layers[name];
    const part = gather.part(name, root, { renderVisible: !(layer && (layer.frozen || layer.visible === false)) });
    for (const [colour, list] of corners) {
      const hex = `#${colour.toString(16).padStart(6, '0')}`;
      const made = meshOf(new BufferGeometry().setAttribute('position', new Float32BufferAttribute(list, 3)), { creased: true });
      dropped += made.dropped;
      gather.parts[part]!.primitives.push({
        mesh: gather.mesh(toMetres(made.mesh, scale, up)),
        material: gather.material(hex, () => ({ name: `Colour ${hex}`, base: parseHex(hex) })),
      });
    }
    const scaled = points.map((v) => v * scale);
    gather.lines('Lines', part, up === 'z' ? isAligned(scaled) : scaled);
  }
  if (dropped > 0) gather.warnings.add(droppedWarning(dropped));
  const left = leftOut([...drawing.unknown]);
  if (left) gather.warnings.add(left);
  if (drawing.paper > 0) gather.warnings.add(`${pluralize(drawing.paper, 'entity', 'entities')} of paper space left out.`);
  if (drawing.hidden > 0) gather.warnings.add(`${pluralize(drawing.hidden, 'hidden entity', 'hidden entities')} left out.`);
  if (drawing.thick > 0) gather.warnings.add(`${pluralize(drawing.thick, 'line has', 'lines have')} a thickness, which is left out.`);
  if (drawing.lostBlocks.size > 0) gather.warnings.add(`Blocks that are not in the file: ${listNames([...drawing.lostBlocks])}.`);
  return gather.model(file.name);
}
