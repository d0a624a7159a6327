/** The set's section: one plane by fields; more come from a set file. */
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { freeId, freeName } from '../../../core/plan/edit.js';
import { type Bounds, centreOf, shortSide } from '../../../core/geometry/bounds.js';
import { type SetFile } from '../../../core/plan/set.js';
import { capsIn } from '../../../core/shot/cap.js';
import { useDesk } from '../../shell/desk.js';
import { CapFields } from '../../ui/CapFields.js';
import { Button, NumberField, Select, TextField, Tick } from '../../ui/controls.js';

/** What each choice cuts away, and the plane's normal. */
const SIDES = {
  above: { label: 'what lies above', normal: [0, 1, 0], axis: 1, where: 'Height' },
  front: { label: 'the front (+Z)', normal: [0, 0, 1], axis: 2, where: 'At z' },
  back: { label: 'the back (−Z)', normal: [0, 0, -1], axis: 2, where: 'At z' },
  right: { label: 'the right (+X)', normal: [1, 0, 0], axis: 0, where: 'At x' },
  left: { label: 'the left (−X)', normal: [-1, 0, 0], axis: 0, where: 'At x' },
} as const;
type Side = keyof typeof SIDES;

type Section = NonNullable<SetFile['section']>;

/** No id is written like this. */
const OWN = '-';

/** Which of the sides a section is, or null where it is another plane or several. */
function sideOf({ planes }: Section): Side | null {
  const [plane, more] = planes;
  if (more || plane!.part !== undefined) return null;
  return (Object.keys(SIDES) as Side[]).find((s) => SIDES[s].normal.every((c, i) => c === plane!.normal[i])) ?? null;
}

export function SectionFields({ bounds }: { bounds: Bounds }): ReactNode {
  const { plan } = useDesk();
  const { file, edit } = plan!;
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
      'Section',
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
  const cut = (side: Side, at: number): string | null => {
    const { normal, axis } = SIDES[side];
    return put({ ...section, planes: [{ normal: [...normal], offset: normal[axis] * at }] });
  };
  const middle = (side: Side): number => Number(centreOf(bounds)[SIDES[side].axis].toFixed(3));
  const side = section && sideOf(section);
  return (
    <section className="flex flex-col gap-3 border-t border-rule pt-3">
      {sections.length > 0 && (
        <Select
          label="Section"
          help="The set's own goes for all its pictures; those with a name for the views that name them."
          value={named ? chosen : OWN}
          options={[{ value: OWN, label: "the set's own" }, ...sections.map((s) => ({ value: s.id, label: s.name }))]}
          onValue={setChosen}
        />
      )}
      {named && (
        <TextField
          label="Section's name"
          help="How views call it."
          value={named.name}
          onValue={(name) => edit((f) => ({ ...f, sections: sections.map((s) => (s.id === named.id ? { ...s, name } : s)) }))}
        />
      )}
      <Tick
        label="Cut the subject"
        help="A plane takes a part of the subject away, in every picture of the set; what it cuts is closed by a cap."
        checked={section !== undefined}
        onChecked={(on) => (on ? cut('above', middle('above')) : put(undefined))}
      />
      {section && !side && <p className="num text-sm text-graphite">{section.planes.length} planes, from the set file</p>}
      {section && side && (
        <>
          <Select
            label="Take away"
            help="The side of the plane that is cut away."
            value={side}
            options={(Object.keys(SIDES) as Side[]).map((s) => ({ value: s, label: SIDES[s].label }))}
            onValue={(s) => cut(s as Side, middle(s as Side))}
          />
          <NumberField
            label={SIDES[side].where}
            help={`Metres. The subject reaches from ${bounds.min[SIDES[side].axis].toFixed(3)} to ${bounds.max[SIDES[side].axis].toFixed(3)} m.`}
            value={section.planes[0]!.offset * SIDES[side].normal[SIDES[side].axis]}
            quantity="length"
            unit="m"
            step={0.05}
            onValue={(at) => cut(side, at)}
          />
        </>
      )}
      {section && <CapFields caps={section} size={shortSide(bounds)} put={(caps) => put({ planes: section.planes, ...capsIn(caps) })} />}
      {section && (
        <Button className="!h-6 self-start !px-2 text-xs" title="Under a name, for the views that name it" onClick={keep}>
          Keep as a named section
        </Button>
      )}
    </section>
  );
}
