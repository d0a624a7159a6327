/** The set's section: one plane by fields; more come from a set file. */
import { type ReactNode, useState } from 'react';
import { freeId, freeName } from '../../../core/edit/editSet.js';
import { type Bounds, centreOf, shortestSide, transformBounds, type Vec3 } from '../../../core/math/bounds.js';
import { matrixOf } from '../../../core/math/matrix.js';
import { type Plane, planeThrough } from '../../../core/math/plane.js';
import { resolveTransform } from '../../../core/model/modelTransform.js';
import type { SetFile } from '../../../core/plan/set.js';
import { capsIn } from '../../../core/frame/sectionCap.js';
import { useParts } from '../../state/queries.js';
import { partBounds } from '../../state/partBox.js';
import { toast } from '../../state/toast.js';
import { useWorkspace } from '../../app/workspace.js';
import { CapFields } from '../../forms/CapFields.js';
import { Button, NumberField, Select, TextField, Checkbox } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './toolWords.js';

/** What each choice cuts away, and the plane's normal. */
const SIDES = {
  above: { label: LABELS.above, normal: [0, 1, 0], axis: 1, where: LABELS.height },
  front: { label: LABELS.frontZ, normal: [0, 0, 1], axis: 2, where: LABELS.atZ },
  back: { label: LABELS.backZ, normal: [0, 0, -1], axis: 2, where: LABELS.atZ },
  right: { label: LABELS.rightX, normal: [1, 0, 0], axis: 0, where: LABELS.atX },
  left: { label: LABELS.leftX, normal: [-1, 0, 0], axis: 0, where: LABELS.atX },
} as const;
type Side = keyof typeof SIDES;

type Section = NonNullable<SetFile['section']>;

/** No id and no path is written like this. */
const OWN = '-';
const ALL = '-';
/** A longer list is no help; the search in the Model step is. */
const MAX_LISTED = 400;

/** Which of the sides a section is, or null where it is another plane or several. */
function sideOf({ planes }: Section): Side | null {
  const [plane, more] = planes;
  if (more) return null;
  return (Object.keys(SIDES) as Side[]).find((s) => SIDES[s].normal.every((c, i) => c === plane!.normal[i])) ?? null;
}

interface SectionFieldsProps {
  bounds: Bounds;
  /** Whence the view looks: a plane through picked points cuts away the eye's side. */
  eye: Vec3;
  /** Points that are still to be picked. */
  left: number;
  onPick: (count: number, done: (points: Vec3[]) => void) => void;
}

/** Where a plane lies beside a part: at the ends and in the middle of its box. */
const BY_PART = {
  low: (low: number, _: number) => low,
  middle: (low: number, high: number) => (low + high) / 2,
  high: (_: number, high: number) => high,
};

/** The set's section. */
export function SectionFields({ bounds, eye, left, onPick }: SectionFieldsProps): ReactNode {
  const { plan, revision } = useWorkspace();
  const { file, edit } = plan!;
  const { data: parts = [] } = useParts(revision?.id);
  const shown = parts.filter((p) => p.renderVisible).slice(0, MAX_LISTED);
  const sections = file.sections ?? [];
  const [chosen, setChosen] = useState(OWN);
  const named = sections.find((s) => s.id === chosen);
  const section: Section | undefined = named ?? file.section;
  const put = (next: Section | undefined): string | null =>
    edit((f) => {
      if (!named) return { ...f, section: next };
      const { id, name } = named;
      const list = next
        ? sections.map((s) => (s.id === id ? { id, name, planes: next.planes, ...capsIn(next) } : s))
        : sections.filter((s) => s.id !== id);
      return { ...f, sections: list.length > 0 ? list : undefined };
    });
  const keep = (): void => {
    const name = freeName(
      LABELS.section,
      sections.map((s) => s.name),
    );
    const id = freeId(
      name,
      sections.map((s) => s.id),
    );
    const problem = edit((f) => ({
      ...f,
      sections: [...sections, { id, name, planes: section!.planes, ...capsIn(section!) }],
    }));
    if (problem) toast.error(problem);
    else setChosen(id);
  };
  const part = section?.planes.length === 1 ? section.planes[0]!.part : undefined;
  const plane = (of: Plane): string | null => put({ ...section, planes: [{ ...of, ...(part && { part }) }] });
  const cut = (side: Side, at: number): string | null => {
    const { normal, axis } = SIDES[side];
    return plane({ normal: [...normal], offset: normal[axis] * at });
  };
  /** Puts the plane at an end or in the middle of a part as it stands. */
  const byPart = (side: Side, path: string, where: keyof typeof BY_PART): void => {
    const box = partBounds(parts, new Set([path]));
    if (!box || !revision) return;
    const placed = resolveTransform(file.transform, revision.bounds);
    const { min, max } = placed ? transformBounds(box, matrixOf(placed.matrix)) : box;
    const { axis } = SIDES[side];
    const problem = cut(side, Number(BY_PART[where](min[axis], max[axis]).toFixed(4)));
    if (problem) toast.error(problem);
  };
  const through = (count: 1 | 3): void =>
    onPick(left > 0 ? 0 : count, (points) => {
      try {
        const [a, b, c] = points as [Vec3, Vec3, Vec3];
        const normal = section?.planes[0]?.normal ?? [0, 1, 0];
        const size = Math.hypot(...normal);
        const next =
          count === 3 ? planeThrough([a, b, c], eye) : { normal, offset: Number((normal.reduce((s, v, i) => s + v * a[i]!, 0) / size).toFixed(4)) };
        const problem = plane(next);
        if (problem) toast.error(problem);
      } catch (e) {
        toast.error((e as Error).message);
      }
    });
  const middle = (side: Side): number => Number(centreOf(bounds)[SIDES[side].axis].toFixed(3));
  const side = section && sideOf(section);
  return (
    <section className="flex flex-col gap-3 border-t border-rule pt-3">
      {sections.length > 0 && (
        <Select
          label={LABELS.section}
          help={HELP.section}
          value={named ? chosen : OWN}
          options={[{ value: OWN, label: LABELS.sectionOfTheSet }, ...sections.map((s) => ({ value: s.id, label: s.name }))]}
          onValue={setChosen}
        />
      )}
      {named && (
        <TextField
          label={LABELS.sectionName}
          help={HELP.sectionName}
          value={named.name}
          onValue={(name) => edit((f) => ({ ...f, sections: sections.map((s) => (s.id === named.id ? { ...s, name } : s)) }))}
        />
      )}
      <Checkbox
        label={LABELS.cutSubject}
        help={HELP.sectionCutsPartOf}
        checked={section !== undefined}
        onChecked={(on) => (on ? cut('above', middle('above')) : put(undefined))}
      />
      {section && section.planes.length > 1 && <p className="num text-sm text-graphite">{MESSAGES.planesFromTheSet(section.planes.length)}</p>}
      {section?.planes.length === 1 && !side && (
        <>
          <p className="num text-sm text-graphite">{LABELS.normal(section.planes[0]!.normal.map((v) => v.toFixed(3)).join(' '))}</p>
          <NumberField
            label={LABELS.distance}
            help={HELP.distance}
            value={section.planes[0]!.offset}
            quantity="length"
            unit="m"
            step={0.05}
            onValue={(offset) => plane({ normal: section.planes[0]!.normal, offset })}
          />
          <Button className="!h-6 self-start !px-2 text-xs" onClick={() => cut('above', middle('above'))}>
            {LABELS.makeAxisAligned}
          </Button>
        </>
      )}
      {section && side && (
        <>
          <Select
            label={LABELS.cutAway}
            help={HELP.cutAway}
            value={side}
            options={(Object.keys(SIDES) as Side[]).map((s) => ({ value: s, label: SIDES[s].label }))}
            onValue={(s) => cut(s as Side, middle(s as Side))}
          />
          <NumberField
            label={SIDES[side].where}
            help={HELP.metresTheSubjectReaches(bounds.min[SIDES[side].axis].toFixed(3), bounds.max[SIDES[side].axis].toFixed(3))}
            value={section.planes[0]!.offset * SIDES[side].normal[SIDES[side].axis]}
            quantity="length"
            unit="m"
            step={0.05}
            onValue={(at) => cut(side, at)}
          />
          <Select
            label={LABELS.alignWithPart}
            help={HELP.alignWithPart}
            value=""
            options={shown
              .filter((p) => p.triangles > 0)
              .flatMap((p) =>
                (Object.keys(BY_PART) as (keyof typeof BY_PART)[]).map((w) => ({ value: `${w} ${p.path}`, label: LABELS.of(w, p.path) })),
              )}
            onValue={(v) => byPart(side, v.slice(v.indexOf(' ') + 1), v.slice(0, v.indexOf(' ')) as keyof typeof BY_PART)}
          />
        </>
      )}
      {section?.planes.length === 1 && (
        <>
          <div className="flex flex-wrap gap-1.5">
            <Button className="!h-6 !px-2 text-xs" aria-pressed={left > 0} title={HELP.clickAPointThe} onClick={() => through(1)}>
              {left > 0 ? LABELS.cancelPicking : LABELS.throughAPoint}
            </Button>
            {left === 0 && (
              <Button className="!h-6 !px-2 text-xs" title={HELP.clickThreePointsThe} onClick={() => through(3)}>
                {LABELS.throughThreePoints}
              </Button>
            )}
          </div>
          <Select
            label={LABELS.appliesTo}
            help={HELP.appliesTo}
            value={part ?? ALL}
            options={[{ value: ALL, label: LABELS.wholeSubject }, ...shown.map((p) => ({ value: p.path, label: p.path }))]}
            onValue={(path) => {
              const { normal, offset } = section.planes[0]!;
              const problem = put({ ...section, planes: [{ normal, offset, ...(path !== ALL && { part: path }) }] });
              if (problem) toast.error(problem);
            }}
          />
        </>
      )}
      {section && <CapFields caps={section} size={shortestSide(bounds)} put={(caps) => put({ planes: section.planes, ...capsIn(caps) })} />}
      {section && (
        <Button className="!h-6 self-start !px-2 text-xs" title={HELP.savesTheSectionUnder} onClick={keep}>
          {LABELS.saveAsNamedSection}
        </Button>
      )}
    </section>
  );
}
