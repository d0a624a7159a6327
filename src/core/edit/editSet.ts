/** Edits of a set that several places of the interface make. */
import type { Bounds } from '../math/bounds.js';
import { isIdentity, type ModelTransform, transformedBounds } from '../model/modelTransform.js';
import { SHOT_KINDS, type Shot, shotName, viewIds } from '../shots/kinds.js';
import type { StageSettings } from '../stage/stage.js';
import { angleSet, type AngleSetOptions } from '../camera/angleSet.js';
import type { View } from '../camera/view.js';
import type { SetFile } from '../plan/set.js';

/** A readable id out of a name, not among those taken. */
export function freeId(name: string, taken: string[]): string {
  const stem =
    name
      .normalize('NFKD')
      .replace(/\p{M}/gu, '')
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 48) || 'item';
  for (let n = 1; ; n++) {
    const id = n === 1 ? stem : `${stem}-${n}`;
    if (!taken.includes(id)) return id;
  }
}

/** A name not among those taken: "Still", "Still 2" … */
export function freeName(name: string, taken: string[]): string {
  for (let n = 1; ; n++) {
    const candidate = n === 1 ? name : `${name} ${n}`;
    if (!taken.includes(candidate)) return candidate;
  }
}

/** Puts the view in the place of the one with its id, or at the end. */
export function withView(set: SetFile, view: View): SetFile {
  const known = set.views.some((v) => v.id === view.id);
  return { ...set, views: known ? set.views.map((v) => (v.id === view.id ? view : v)) : [...set.views, view] };
}

/**
 * Stands the model up another way. Reference bounds that are those of the model as it stood follow it;
 * others, of an earlier revision for example, stay: refitting is an act of its own.
 */
export function withTransform(set: SetFile, place: ModelTransform, model: Bounds): SetFile {
  const own = set.reference && JSON.stringify(set.reference) === JSON.stringify(transformedBounds(set.transform, model));
  return { ...set, transform: isIdentity(place) ? undefined : place, ...(own && { reference: transformedBounds(place, model) }) };
}

/** Adds the views of an angle set under free names and ids; returns the set and the ids. */
export function withAngleSet(set: SetFile, bounds: Bounds, options: AngleSetOptions, group?: string): { set: SetFile; ids: string[] } {
  const ids: string[] = [];
  let next = set;
  for (const view of angleSet(bounds, set.sheet.size, set.sheet.pixelAspect, options)) {
    const name = freeName(
      view.name,
      next.views.map((v) => v.name),
    );
    const id = freeId(
      name,
      next.views.map((v) => v.id),
    );
    ids.push(id);
    next = withView(next, { ...view, id, name, ...(group && { group }) });
  }
  return { set: next, ids };
}

/** A copy of a view after it, under a name of its own. Throws where there is none. */
export function withCopy(set: SetFile, id: string): { set: SetFile; id: string } {
  const at = set.views.findIndex((v) => v.id === id);
  const view = set.views[at];
  if (!view) throw new Error(`There is no view "${id}" in this set.`);
  const name = freeName(
    view.name,
    set.views.map((v) => v.name),
  );
  const copy = {
    ...view,
    name,
    id: freeId(
      name,
      set.views.map((v) => v.id),
    ),
    locked: undefined,
  };
  return { set: { ...set, views: set.views.toSpliced(at + 1, 0, copy) }, id: copy.id };
}

/** Moves an item of a list by so many places, as far as the list reaches. */
export function moveItem<T>(list: T[], at: number, by: number): T[] {
  const to = Math.min(list.length - 1, Math.max(0, at + by));
  const item = list[at];
  return item === undefined || to === at ? list : list.toSpliced(at, 1).toSpliced(to, 0, item);
}

/** Takes a view out. Throws where a shot still needs it. */
export function withoutView(set: SetFile, id: string): SetFile {
  const user = set.shots.find((s) => viewIds(s).includes(id));
  if (user) throw new Error(`The view is used by the shot "${user.name ?? user.id}"; remove it there first.`);
  return { ...set, views: set.views.filter((v) => v.id !== id) };
}

/** The set with another stage of that id, or as its first one. */
export function withStage(set: SetFile, id: string | undefined, stage: StageSettings): SetFile {
  return id ? { ...set, stages: set.stages?.map((s) => (s.id === id ? { ...s, stage } : s)) } : { ...set, stage };
}

/** Adds a stage under a free name; returns the set and the new id. */
export function withNewStage(set: SetFile, wanted: string, stage: StageSettings): { set: SetFile; id: string } {
  const stages = set.stages ?? [];
  const name = freeName(
    wanted,
    stages.map((s) => s.name),
  );
  const id = freeId(
    name,
    stages.map((s) => s.id),
  );
  return { set: { ...set, stages: [...stages, { id, name, stage }] }, id };
}

/** Takes a further stage out. Throws where a shot or a view still names it. */
export function withoutStage(set: SetFile, id: string): SetFile {
  const shot = set.shots.find((s) => s.stage === id);
  if (shot) throw new Error(`The stage is used by the shot "${shotName(shot)}"; choose another there first.`);
  const view = set.views.find((v) => v.overrides?.stage === id);
  if (view) throw new Error(`The stage is used by the view "${view.name}"; choose another there first.`);
  const stages = set.stages?.filter((s) => s.id !== id);
  return { ...set, stages: stages?.length ? stages : undefined };
}

/** Puts the shot in the place of the one with its id, or at the end. */
export function withShot(set: SetFile, shot: Shot): SetFile {
  const known = set.shots.some((s) => s.id === shot.id);
  return { ...set, shots: known ? set.shots.map((s) => (s.id === shot.id ? shot : s)) : [...set.shots, shot] };
}

/** A copy of a shot under a name and id of its own. */
export function copyOf(shots: Shot[], shot: Shot): Shot {
  const name = freeName(
    shot.name ?? shot.id,
    shots.map((s) => s.name ?? s.id),
  );
  return {
    ...shot,
    name,
    id: freeId(
      name,
      shots.map((s) => s.id),
    ),
  };
}

/** A new shot of a kind on a view, with the kind's stated defaults. */
export function newShot(set: SetFile, kind: Shot['kind'], view: string, bounds: Bounds): Shot {
  const label = SHOT_KINDS[kind].label;
  const name = freeName(
    label[0]!.toUpperCase() + label.slice(1),
    set.shots.map((s) => s.name ?? s.id),
  );
  return SHOT_KINDS[kind].defaults(
    freeId(
      name,
      set.shots.map((s) => s.id),
    ),
    name,
    view,
    { bounds, views: set.views },
  );
}
