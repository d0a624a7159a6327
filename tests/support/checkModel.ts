/** Checks of small models that are made by code, as `easel preflight` runs them. */
import type { Material } from '../../src/core/materials/material.js';
import { boundsOfPoints, emptyBounds, joinBounds } from '../../src/core/math/bounds.js';
import { isClosedMesh } from '../../src/core/math/sectionArea.js';
import { MeshMaker, modelOf } from '../../src/core/model/meshMaker.js';
import type { Mesh, Model } from '../../src/core/model/model.js';
import { transformedBounds } from '../../src/core/model/modelTransform.js';
import { planFrames } from '../../src/core/planning/planFrames.js';
import { parseSet, type SetFile } from '../../src/core/plan/set.js';
import type { OutputPlace, PreflightPlan } from '../../src/core/preflight/finding.js';
import { preflightPlan, type PreflightReport, wantedProbes } from '../../src/core/preflight/preflight.js';
import type { FrameProbe } from '../../src/core/preflight/probe.js';
import { summarizeProbe } from '../../src/core/preflight/summarizeProbe.js';
import { loadKernelModule } from '../../src/engine/node/assets.js';
import { checkPlan } from '../../src/engine/probes/checkPlan.js';
import { FrameProber } from '../../src/engine/probes/frameProber.js';
import { SceneProber } from '../../src/engine/probes/sceneProber.js';
import { compile } from '../../src/engine/scene/compile.js';

/** A part of a model: its mesh stands where it is. */
export interface Piece {
  name: string;
  mesh: Mesh;
  material?: Partial<Material>;
  isContext?: boolean;
}

/** A closed box. */
export const box = (min: number[], max: number[]): Mesh => new MeshMaker().box(min, max).mesh();

/** A model of boxes, balls and the like. */
export function modelOfPieces(pieces: readonly Piece[]): Model {
  const model = modelOf('model', [...pieces]);
  model.parts.forEach((part, i) => Object.assign(part, { name: pieces[i]!.name, path: pieces[i]!.name, isContext: pieces[i]!.isContext ?? false }));
  return model;
}

const DEFAULTS = { format: 'cold-easel.set', version: 2, name: 'Set', sheet: { size: { width: 640, height: 360 }, quality: { samples: 16 } } };

/** A plan that is checked, with what it was made from. */
export interface Checked {
  model: Model;
  set: SetFile;
  plan: PreflightPlan;
}

/** The plan of a set with those changes on a model of those pieces. */
export function planOfModel(
  pieces: readonly Piece[],
  changes: Record<string, unknown>,
  more: { missingFiles?: string[]; output?: OutputPlace } = {},
): Checked {
  const model = modelOfPieces(pieces);
  const set = parseSet({ ...DEFAULTS, ...changes });
  const own = model.meshes.reduce((all, m) => joinBounds(all, boundsOfPoints(m.positions)), emptyBounds());
  const parts = model.parts.map(({ path, renderVisible, isContext }, i) => ({
    path,
    renderVisible,
    isContext,
    triangles: model.meshes[i]!.indices.length / 3,
    bounds: boundsOfPoints(model.meshes[i]!.positions),
    open: !isClosedMesh(model.meshes[i]!),
  }));
  const frames = planFrames(set, { bounds: own, scene: 'model' });
  return { model, set, plan: preflightPlan(set, frames, { parts, bounds: transformedBounds(set.transform, own), scene: 'model' }, more) };
}

/** The whole check, asking the kernel. */
export function checkModel({ model, plan }: Checked): Promise<PreflightReport> {
  const module = loadKernelModule();
  const scene = compile(module, model);
  const nothing = (): never => {
    throw new Error('This model has no images.');
  };
  const source = { hash: 'model', scene: () => scene, module: () => module, texture: nothing, picture: nothing };
  return checkPlan(plan, new SceneProber(module), source);
}

/** What is kept of the probe of each frame. */
export function probesOf({ model, plan }: Checked): FrameProbe[] {
  const module = loadKernelModule();
  const prober = new FrameProber(module, compile(module, model));
  return wantedProbes(plan).map(({ frame, request }) => summarizeProbe(prober.probe(frame, request), frame));
}
