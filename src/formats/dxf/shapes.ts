/** Entities of a drawing as chains of points and as triangles, in the entity's own numbers (DXF Reference; from memory). */
import type {
  I3DfaceEntity,
  IArcEntity,
  IEllipseEntity,
  IEntity,
  ILineEntity,
  ILwpolylineEntity,
  IPoint,
  IPolylineEntity,
  ISolidEntity,
  ISplineEntity,
  IVertexEntity,
} from 'dxf-parser';
import type { Vec3 } from '../../core/math/bounds.js';
import { spanCount } from '../part21/curves.js';
import { pointsOn } from '../part21/nurbs.js';

/** What an entity is drawn by. Corners of triangles come three at a time. */
export interface Shape {
  chains: Vec3[][];
  corners: Vec3[];
}

const at = (p: Partial<IPoint> | undefined, z?: number): Vec3 => [p?.x ?? 0, p?.y ?? 0, z ?? p?.z ?? 0];

/** Points of a part of an ellipse by its half axes. */
function around(centre: Vec3, major: [number, number], minor: [number, number], from: number, to: number): Vec3[] {
  const turn = to > from ? to - from : to - from + 2 * Math.PI;
  const n = spanCount(turn);
  return Array.from({ length: n + 1 }, (_, i) => {
    const a = from + (turn * i) / n;
    const [c, s] = [Math.cos(a), Math.sin(a)];
    return [centre[0] + c * major[0] + s * minor[0], centre[1] + c * major[1] + s * minor[1], centre[2]];
  });
}

/** The way from one point to the next: straight, or an arc whose bulge is the tangent of a quarter of its turn. */
function leg(a: Vec3, b: Vec3, bulge: number): Vec3[] {
  if (!bulge) return [b];
  const turn = 4 * Math.atan(bulge);
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  // From the middle of the chord to the centre, to the left of the way.
  const k = (1 - bulge * bulge) / (4 * bulge);
  const centre: [number, number] = [(a[0] + b[0]) / 2 - dy * k, (a[1] + b[1]) / 2 + dx * k];
  const start = Math.atan2(a[1] - centre[1], a[0] - centre[0]);
  const radius = Math.hypot(a[0] - centre[0], a[1] - centre[1]);
  const n = spanCount(turn);
  return Array.from({ length: n }, (_, i) => {
    const angle = start + (turn * (i + 1)) / n;
    return i === n - 1 ? b : [centre[0] + radius * Math.cos(angle), centre[1] + radius * Math.sin(angle), a[2]];
  });
}

function polyline(points: Vec3[], bulges: number[], closed: boolean): Vec3[] {
  const first = points[0];
  if (!first) return [];
  const out = [first];
  const ways = closed ? points.length : points.length - 1;
  for (let i = 0; i < ways; i++) out.push(...leg(points[i]!, points[(i + 1) % points.length]!, bulges[i] ?? 0));
  return out;
}

const quad = ([a, b, c, d]: (Vec3 | undefined)[]): Vec3[] => (!a || !b || !c ? [] : d ? [a, b, c, a, c, d] : [a, b, c]);

/** Faces of a mesh of vertices: those that list numbers of others are faces, the others places. */
function polyface(vertices: IVertexEntity[]): Vec3[] {
  const isFace = (v: IVertexEntity): boolean => v.polyfaceMeshVertex && !v.threeDPolylineMesh;
  const places = vertices.filter((v) => !isFace(v)).map((v) => at(v));
  return vertices.filter(isFace).flatMap((v) => {
    // A number below zero marks an edge that is not drawn.
    const corners = [v.faceA, v.faceB, v.faceC, v.faceD].filter((n) => n).map((n) => places[Math.abs(n) - 1]);
    return quad(corners);
  });
}

const lines = (chain: Vec3[]): Shape => ({ chains: chain.length > 1 ? [chain] : [], corners: [] });

/** What an entity is drawn by; null where its kind is not known here. */
export function shapeOf(entity: IEntity): Shape | null {
  switch (entity.type) {
    case 'LINE':
      return lines((entity as ILineEntity).vertices.map((v) => at(v)));
    case 'CIRCLE':
    case 'ARC': {
      const { center, radius, startAngle, endAngle } = entity as IArcEntity;
      const [from, to] = entity.type === 'CIRCLE' ? [0, 2 * Math.PI] : [startAngle, endAngle];
      return lines(around(at(center), [radius, 0], [0, radius], from, to));
    }
    case 'ELLIPSE': {
      const { center, majorAxisEndPoint: m, axisRatio, startAngle, endAngle } = entity as IEllipseEntity;
      return lines(around(at(center), [m.x, m.y], [-m.y * axisRatio, m.x * axisRatio], startAngle, endAngle));
    }
    case 'LWPOLYLINE': {
      const { vertices, elevation, shape } = entity as ILwpolylineEntity;
      const points = vertices.map((v) => at(v, elevation));
      return lines(
        polyline(
          points,
          vertices.map((v) => v.bulge),
          shape,
        ),
      );
    }
    case 'POLYLINE': {
      const { vertices, shape, isPolyfaceMesh, is3dPolygonMesh } = entity as IPolylineEntity;
      if (isPolyfaceMesh) return { chains: [], corners: polyface(vertices) };
      // The library does not tell how many vertices a row of a grid has.
      if (is3dPolygonMesh) return null;
      // Points that a smooth curve was made from are not on it.
      const shown = vertices.filter((v) => !v.splineControlPoint);
      return lines(
        polyline(
          shown.map((v) => at(v)),
          shown.map((v) => v.bulge),
          shape,
        ),
      );
    }
    case 'SPLINE': {
      const { controlPoints = [], fitPoints = [], knotValues = [], degreeOfSplineCurve: degree } = entity as ISplineEntity;
      const made = pointsOn({ degree, points: controlPoints.map((p) => at(p)), knots: knotValues });
      return lines(made.length > 1 ? made : fitPoints.map((p) => at(p)));
    }
    case '3DFACE':
      return { chains: [], corners: quad((entity as I3DfaceEntity).vertices.map((v) => at(v))) };
    case 'SOLID': {
      // Its third and fourth corner are crossed.
      const [a, b, c, d] = (entity as ISolidEntity).points.map((p) => at(p));
      return { chains: [], corners: quad([a, b, d ?? c, c]) };
    }
    default:
      return null;
  }
}

/** Entities that say where something is, and are nothing to see. */
export const isUnseen = (type: string): boolean => ['ATTDEF', 'VIEWPORT', 'SEQEND', 'VERTEX', 'ATTRIB'].includes(type);
