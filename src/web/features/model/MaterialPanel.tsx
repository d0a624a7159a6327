/** Materials of the selected parts: those of the library, custom ones, and the model's own. */
import { type ReactNode, useState } from 'react';
import { LIBRARY, SWATCH } from '../../../core/materials/library.js';
import type { MaterialAssignments } from '../../../core/materials/assignments.js';
import type { CustomMaterial } from '../../../core/materials/customMaterial.js';
import { dragMaterial } from '../../ui/dragMaterial.js';
import type { Bounds } from '../../../core/math/bounds.js';
import { metres } from '../../app/format.js';
import { lazily } from '../../ui/lazily.js';
import { Button, Select } from '../../ui/controls.js';
import { HELP, LABELS, MESSAGES } from './materialWords.js';

const CustomMaterialForm = lazily(() => import('./CustomMaterialForm.js').then((m) => m.CustomMaterialForm));

const SIDE = 40;

/** A swatch of the library by its place on the sheet, or a plain square. */
export function Swatch({ index, colour }: { index?: number; colour?: string }): ReactNode {
  const style =
    index === undefined
      ? { backgroundColor: colour }
      : {
          backgroundImage: 'url(/api/materials/swatches.webp)',
          backgroundSize: `${SWATCH.columns * SIDE}px auto`,
          backgroundPosition: `-${(index % SWATCH.columns) * SIDE}px -${Math.floor(index / SWATCH.columns) * SIDE}px`,
        };
  return <span aria-hidden className="block shrink-0 bg-mount" style={{ width: SIDE, height: SIDE, ...style }} />;
}

/** A group of faces as the list names it; its size helps to tell it from others. */
function faceWords({ material, area }: { material: string; area: number | undefined }, index: number): string {
  return MESSAGES.faces(index + 1, material, area === undefined ? '' : `, ${Number(area.toPrecision(2))} m²`);
}

/** What a part is in a set: it turns, is cut and fitted, or it stays. */
export type PartRole = 'subject' | 'context';

interface MaterialPanelProps {
  /** How many parts are selected, and the materials that they have now. */
  count: number;
  /** Around them. */
  box: Bounds | null;
  inUse: string[];
  materials: MaterialAssignments;
  /** Materials that the model brought. */
  model: string[];
  onAssign: (material: string | undefined) => void;
  onSwap: (from: string, to: string) => void;
  /** Adds a custom material, or replaces the one of that name. */
  onOwn: (material: CustomMaterial, instead?: string) => string | null;
  /** Groups of faces of the one part that is selected, with the material of each; one or none where it is not divided. */
  faces: { material: string; area: number | undefined }[];
  /** The one part that is selected is one group, and the file's faces could be kept apart. */
  undivided: boolean;
  /** The group that materials go on, counted from 1; null for the whole part. */
  face: number | null;
  onFace: (group: number | null) => void;
  onSelectWearing: (material: string) => void;
  /** Whether the selected parts are subject or context in this set; 'mixed' where they differ. */
  role: PartRole | 'mixed';
  onRole: (role: PartRole) => void;
}

/** The group of what the model's file has. No group of the library is called this. */
const MODEL = '-model';

/** What the selected parts are made of, and all materials to choose from. */
export function MaterialPanel({
  count,
  box,
  inUse,
  materials: assignments,
  model,
  onAssign,
  onSwap,
  onOwn,
  onSelectWearing,
  faces,
  undivided,
  face,
  onFace,
  role,
  onRole,
}: MaterialPanelProps): ReactNode {
  const [everywhere, setEverywhere] = useState(false);
  const [making, setMaking] = useState<'no' | 'new' | CustomMaterial>('no');
  const [group, setGroup] = useState<string>('metal');
  const put = (name: string): void => {
    if (!everywhere) onAssign(name);
    else for (const from of inUse) onSwap(from, name);
  };
  const groups = [
    ...[...new Set(LIBRARY.map((l) => l.group))].map((g) => ({ value: g, label: g })),
    { value: 'own', label: LABELS.custom },
    { value: MODEL, label: LABELS.fromTheModel },
  ];
  const shown: { name: string; index?: number; colour?: string }[] =
    group === 'own'
      ? assignments.materials.map((f) => ({ name: f.name, colour: f.colour }))
      : group === MODEL
        ? model.map((name) => ({ name, colour: '#b9bdc0' }))
        : LIBRARY.map(({ material, group: g }, index) => ({ name: material.name, index, g })).filter((f) => f.g === group);
  return (
    <section
      className={`flex shrink-0 flex-col gap-2 border-t border-ink px-4 py-3 ${making === 'no' ? 'max-h-[46%]' : 'max-h-[74%]'}`}
      aria-label={LABELS.material}
    >
      <div className="flex items-baseline justify-between gap-2">
        <h2 className="truncate font-semibold">
          {count === 1 ? LABELS.materialOfOnePart : LABELS.materialOfParts(count)} {inUse.slice(0, 2).join(', ') || LABELS.none}
          {inUse.length > 2 && MESSAGES.andMore(inUse.length - 2)}
        </h2>
        <button type="button" className="shrink-0 text-sm underline" onClick={() => onAssign(undefined)}>
          {LABELS.asImported}
        </button>
      </div>
      {box && <p className="num text-xs text-graphite">{LABELS.box(metres(box))}</p>}
      <Select
        label={LABELS.roleInShots}
        help={HELP.roleInShots}
        value={role}
        options={[
          { value: 'subject', label: LABELS.subject },
          { value: 'context', label: LABELS.context },
          ...(role === 'mixed' ? [{ value: 'mixed', label: LABELS.mixed }] : []),
        ]}
        onValue={(v) => v !== 'mixed' && onRole(v as PartRole)}
      />
      {faces.length > 1 && (
        <Select
          label={LABELS.appliesTo}
          help={HELP.appliesTo}
          value={String(face ?? 0)}
          options={[{ value: '0', label: LABELS.wholePart }, ...faces.map((f, i) => ({ value: String(i + 1), label: faceWords(f, i) }))]}
          onValue={(v) => onFace(Number(v) || null)}
        />
      )}
      {undivided && <p className="text-xs text-graphite">{MESSAGES.thisPartHasOne}</p>}
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
        <label className="flex items-center gap-1.5" title={HELP.everywhere}>
          <input type="checkbox" checked={everywhere} onChange={(e) => setEverywhere(e.target.checked)} />
          {LABELS.allPartsWithIt}
        </label>
        {inUse.length === 1 && (
          <button type="button" className="underline" onClick={() => onSelectWearing(inUse[0]!)}>
            {LABELS.selectAllWithIt}
          </button>
        )}
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)_auto] items-end gap-3">
        <Select label={LABELS.library} help={HELP.library} value={group} options={groups} onValue={setGroup} />
        <Button onClick={() => setMaking(making === 'no' ? 'new' : 'no')}>{making === 'no' ? LABELS.newMaterial : LABELS.back}</Button>
      </div>
      {making !== 'no' ? (
        <CustomMaterialForm
          taken={assignments.materials.map((f) => f.name)}
          {...(making !== 'new' && { initial: making })}
          onMake={(material) => {
            const problem = making === 'new' ? onOwn(material) : onOwn(material, making.name);
            if (problem) return problem;
            if (making === 'new') put(material.name);
            setMaking('no');
            setGroup('own');
            return null;
          }}
        />
      ) : (
        <ul className="grid min-h-0 grid-cols-2 gap-1 overflow-auto">
          {shown.length === 0 && <li className="col-span-2 text-sm text-graphite">{MESSAGES.noneYet}</li>}
          {shown.map(({ name, index, colour }) => (
            <li key={name} className="relative">
              <button
                type="button"
                title={HELP.clickToAssignOr}
                {...dragMaterial(name)}
                className={`flex w-full items-center gap-2 border p-0.5 text-left text-sm ${inUse.length === 1 && inUse[0] === name ? 'border-madder' : 'border-transparent hover:border-rule'}`}
                onClick={() => put(name)}
              >
                <Swatch {...(index === undefined ? { colour: colour! } : { index })} />
                <span className="leading-tight">{name}</span>
              </button>
              {group === 'own' && (
                <button
                  type="button"
                  aria-label={LABELS.editNamed(name)}
                  className="absolute right-1 top-1 text-xs underline"
                  onClick={() => setMaking(assignments.materials.find((f) => f.name === name)!)}
                >
                  {LABELS.edit}
                </button>
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
