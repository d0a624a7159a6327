import type { ReactNode } from 'react';
import type { PartReply, RevisionReply } from '../../../contract/contract.js';
import { NO_ASSIGNMENTS } from '../../../core/materials/editAssignments.js';
import type { Bounds } from '../../../core/math/bounds.js';
import { EXT_WITH_FACES } from '../../../core/model/fileExtensions.js';
import type { ModelTransform } from '../../../core/model/modelTransform.js';
import { useWorkspace } from '../../app/workspace.js';
import { lazily } from '../../ui/lazily.js';
import { endsIn } from './endsIn.js';
import { ListSwitch, type ModelList } from './ListSwitch.js';
import type { MaterialEditor } from './useMaterials.js';
import { VariantsAndRules } from './VariantsAndRules.js';

const ImportReport = lazily(() => import('./ImportReport.js').then((m) => m.ImportReport));
const MaterialPanel = lazily(() => import('./MaterialPanel.js').then((m) => m.MaterialPanel));
// Its rows wait for the parts of the model anyway.
const PartTree = lazily(() => import('./PartTree.js').then((m) => m.PartTree));
const TransformPanel = lazily(() => import('./TransformPanel.js').then((m) => m.TransformPanel));
const RemapLost = lazily(() => import('./RevisionPanel.js').then((m) => m.RemapLost));
const RevisionPanel = lazily(() => import('./RevisionPanel.js').then((m) => m.RevisionPanel));
const Schedule = lazily(() => import('./Schedule.js').then((m) => m.Schedule));

interface ModelSideProps {
  revision: RevisionReply;
  /** Whether there is a revision before it. */
  later: boolean;
  parts: PartReply[] | undefined;
  desk: MaterialEditor;
  /** Of what is selected, as the set places it; null where nothing is. */
  box: Bounds | null;
  list: ModelList;
  onList(list: ModelList): void;
  /** Whether the earlier revision is drawn over this one. */
  over: boolean;
  onOver(over: boolean): void;
  onTransform(next: ModelTransform): string | null;
}

/** What the import came to, and the lists of the Model step: parts with their materials, position, schedule, changes. */
export function ModelSide({ revision, later, parts, desk, box, list, onList, over, onOver, onTransform }: ModelSideProps): ReactNode {
  const { project, plan } = useWorkspace();
  const { materials: assignments, transform } = plan!.file;
  const { resolved, selected, lone } = desk;
  const lines = parts?.filter((p) => p.lines !== undefined).length ?? 0;
  return (
    <aside className="flex min-h-0 flex-col border-l border-rule bg-chalk">
      <ImportReport project={project} revision={revision} lines={lines} />
      <ListSwitch list={list} later={later} onChoose={onList} />
      <VariantsAndRules assignments={assignments} parts={parts} model={revision.materials} onChange={desk.change} />
      {parts && !later && <RemapLost parts={parts} />}
      {list === 'place' && <TransformPanel place={transform} bounds={revision.bounds} onChange={onTransform} />}
      {parts && list === 'changes' && (
        <RevisionPanel
          parts={parts}
          over={over}
          onOver={onOver}
          onSelect={(path) => {
            desk.select(new Set([path]));
            onList('parts');
          }}
        />
      )}
      {parts && resolved && list === 'schedule' && (
        <Schedule
          parts={parts}
          resolved={resolved}
          name={project.name}
          onPick={(material) => {
            desk.pickWearing(material);
            onList('parts');
          }}
        />
      )}
      {parts && resolved && list === 'parts' && (
        <PartTree
          parts={parts}
          resolved={resolved}
          selected={selected}
          onSelect={desk.select}
          onSwitch={desk.turn}
          onDrop={(path, material) => desk.drop(material, { path, group: 1, point: [0, 0, 0] }, false)}
        />
      )}
      {parts && resolved && selected.size > 0 && list === 'parts' && (
        <MaterialPanel
          count={selected.size}
          box={box}
          inUse={desk.inUse}
          materials={assignments ?? NO_ASSIGNMENTS}
          model={revision.materials}
          faces={desk.faces}
          undivided={lone !== null && lone.areas?.length === 1 && revision.facesApart !== true && endsIn(revision.fileName, EXT_WITH_FACES)}
          face={desk.face}
          onFace={desk.setFace}
          onAssign={desk.assign}
          onSwap={desk.swap}
          onOwn={desk.own}
          onSelectWearing={desk.pickWearing}
          role={desk.role}
          onRole={(role) => desk.setRole(role, revision.bounds)}
        />
      )}
    </aside>
  );
}
