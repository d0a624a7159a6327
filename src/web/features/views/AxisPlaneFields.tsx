import type { ReactNode } from 'react';
import type { Bounds } from '../../../core/math/bounds.js';
import { NumberField, Select } from '../../ui/controls.js';
import { HELP, LABELS } from './toolWords.js';
import { BY_PART, type Section, type SectionEditor, type Side, SIDES } from './useSection.js';

/** The fields of a plane across an axis: what it cuts away, and where. */
export function AxisPlaneFields(props: { editor: SectionEditor; section: Section; side: Side; bounds: Bounds }): ReactNode {
  const { editor, section, side, bounds } = props;
  const { shown, cut, middle, byPart } = editor;
  return (
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
          .flatMap((p) => (Object.keys(BY_PART) as (keyof typeof BY_PART)[]).map((w) => ({ value: `${w} ${p.path}`, label: LABELS.of(w, p.path) })))}
        onValue={(v) => byPart(side, v.slice(v.indexOf(' ') + 1), v.slice(0, v.indexOf(' ')) as keyof typeof BY_PART)}
      />
    </>
  );
}
