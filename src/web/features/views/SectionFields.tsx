/** The set's section: one plane by fields; more come from a set file. */
import type { ReactNode } from 'react';
import { type Bounds, shortestSide, type Vec3 } from '../../../core/math/bounds.js';
import { capsIn } from '../../../core/frame/sectionCap.js';
import { useWorkspace } from '../../app/workspace.js';
import { CapFields } from '../../forms/CapFields.js';
import { toastProblem } from '../../state/toastProblem.js';
import { Button, NumberField, Select, TextField, Checkbox } from '../../ui/controls.js';
import { AxisPlaneFields } from './AxisPlaneFields.js';
import { HELP, LABELS, MESSAGES } from './toolWords.js';
import { OWN, useSection } from './useSection.js';

/** The whole subject among its parts: no path is written like this. */
const ALL = '-';

interface SectionFieldsProps {
  bounds: Bounds;
  /** Whence the view looks: a plane through picked points cuts away the eye's side. */
  eye: Vec3;
  /** Points that are still to be picked. */
  left: number;
  onPick: (count: number, done: (points: Vec3[]) => void) => void;
}

/** The set's section. */
export function SectionFields({ bounds, eye, left, onPick }: SectionFieldsProps): ReactNode {
  const { plan } = useWorkspace();
  const editor = useSection(bounds, eye);
  const { shown, sections, named, choose, section, side, part, put, plane, cut, middle } = editor;
  const pick = (count: 1 | 3): void => onPick(left > 0 ? 0 : count, editor.through);
  return (
    <section className="flex flex-col gap-3 border-t border-rule pt-3">
      {sections.length > 0 && (
        <Select
          label={LABELS.section}
          help={HELP.section}
          value={named?.id ?? OWN}
          options={[{ value: OWN, label: LABELS.sectionOfTheSet }, ...sections.map((s) => ({ value: s.id, label: s.name }))]}
          onValue={choose}
        />
      )}
      {named && (
        <TextField
          label={LABELS.sectionName}
          help={HELP.sectionName}
          value={named.name}
          onValue={(name) => plan!.edit((f) => ({ ...f, sections: sections.map((s) => (s.id === named.id ? { ...s, name } : s)) }))}
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
      {section && side && <AxisPlaneFields editor={editor} section={section} side={side} bounds={bounds} />}
      {section?.planes.length === 1 && (
        <>
          <div className="flex flex-wrap gap-1.5">
            <Button className="!h-6 !px-2 text-xs" aria-pressed={left > 0} title={HELP.clickAPointThe} onClick={() => pick(1)}>
              {left > 0 ? LABELS.cancelPicking : LABELS.throughAPoint}
            </Button>
            {left === 0 && (
              <Button className="!h-6 !px-2 text-xs" title={HELP.clickThreePointsThe} onClick={() => pick(3)}>
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
              toastProblem(put({ ...section, planes: [{ normal, offset, ...(path !== ALL && { part: path }) }] }));
            }}
          />
        </>
      )}
      {section && <CapFields caps={section} size={shortestSide(bounds)} put={(caps) => put({ planes: section.planes, ...capsIn(caps) })} />}
      {section && (
        <Button className="!h-6 self-start !px-2 text-xs" title={HELP.savesTheSectionUnder} onClick={editor.keep}>
          {LABELS.saveAsNamedSection}
        </Button>
      )}
    </section>
  );
}
