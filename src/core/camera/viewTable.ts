/** The register of views, as rows and as CSV. */
import { angleOfView, cameraOf, pitchOf, type Size, type View } from './view.js';
import type { Vec3 } from '../math/bounds.js';
import { csv } from '../base/csv.js';

/** A view as the table of views prints it. */
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

/** One row a view, in their order, for frames of that size. */
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

/** The table of views as CSV; lengths in metres, angles in degrees. */
export function viewsCsv(views: View[], size: Size, pixelAspect: number): string {
  const axes = (what: string): string[] => ['x', 'y', 'z'].map((a) => `${what} ${a}`);
  const head = [
    'name',
    'group',
    'kind',
    ...axes('eye'),
    ...axes('target'),
    'focal length mm or width m',
    'angle across degrees',
    'pitch degrees',
    'shift',
  ];
  return csv(
    head,
    viewRows(views, size, pixelAspect).map((r) => [r.name, r.group, r.kind, ...r.eye, ...r.target, r.lens, r.angle, r.pitch, r.shift]),
  );
}
