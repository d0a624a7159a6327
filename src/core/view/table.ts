/** The register of views, as rows and as CSV. */
import { angleOfView, cameraOf, pitchOf, type Size, type View } from './camera.js';
import { type Vec3 } from '../geometry/bounds.js';

export interface ViewRow {
  name: string;
  group: string;
  kind: View['kind'];
  eye: Vec3;
  target: Vec3;
  /** Millimetres of a perspective view, metres across of a parallel one; null of a panorama. */
  lens: number | null;
  /** Degrees across the long side; null where not a perspective. */
  angle: number | null;
  /** Degrees, up positive. */
  pitch: number;
  /** Of uprights, in halves of the frame's height. */
  shift: number;
}

export function viewRows(views: View[], size: Size, pixelAspect: number): ViewRow[] {
  return views.map((view) => ({
    name: view.name,
    group: view.group ?? '',
    kind: view.kind,
    eye: view.eye as Vec3,
    target: view.target as Vec3,
    lens: view.kind === 'perspective' ? view.focalLength : view.kind === 'parallel' ? view.width! : null,
    angle: view.kind === 'perspective' ? angleOfView(view.focalLength) : null,
    pitch: pitchOf(view.eye as Vec3, view.target as Vec3),
    shift: cameraOf(view, size, pixelAspect).shift,
  }));
}

/** A field as RFC 4180 has it; a sign that a table program would take for a formula is kept from it. */
function field(value: string | number | null): string {
  if (value === null) return '';
  if (typeof value === 'number') return String(Math.round(value * 1e6) / 1e6);
  const text = /^[=+\-@\t]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

export function viewsCsv(views: View[], size: Size, pixelAspect: number): string {
  const head = 'name,group,kind,eye x,eye y,eye z,target x,target y,target z,focal length mm or width m,angle across degrees,pitch degrees,shift';
  const lines = viewRows(views, size, pixelAspect).map((r) =>
    [r.name, r.group, r.kind, ...r.eye, ...r.target, r.lens, r.angle, r.pitch, r.shift].map(field).join(','),
  );
  return [head, ...lines, ''].join('\r\n');
}
