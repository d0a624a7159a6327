import type { ReactNode } from 'react';
import type { RevisionReply } from '../../../contract/contract.js';
import type { View } from '../../../core/camera/view.js';
import type { Bounds } from '../../../core/math/bounds.js';
import { transformedBounds } from '../../../core/model/modelTransform.js';
import type { SetFile } from '../../../core/plan/set.js';
import { Button, Select } from '../../ui/controls.js';
import { ImportedCameras } from './ImportedCameras.js';
import { RebaseNotice } from './RebaseNotice.js';
import { SectionFields } from './SectionFields.js';
import type { ViewEditor } from './useViewEditor.js';
import { ViewFields } from './ViewFields.js';
import { ViewOverrides } from './ViewOverrides.js';
import { HELP, LABELS } from './words.js';

/** No id is written like this. */
const NONE = '-';

/** The fields of the view, of what it shows in a way of its own, and of the section. */
export function ViewSide(props: {
  file: SetFile;
  revision: RevisionReply;
  editor: ViewEditor;
  shown: View;
  bounds: Bounds;
  /** Id of the view that is compared with; null for none. */
  beside: string | null;
  onBeside(id: string | null): void;
  /** What the preview asks, below the fields. */
  asked: ReactNode;
}): ReactNode {
  const { file, revision, editor, shown, bounds, beside, onBeside, asked } = props;
  const { sheet, views } = file;
  const { selected, picking, setPicking, change } = editor;
  const others = views.filter((v) => v.id !== selected?.id && v.kind !== 'panorama').map((v) => ({ value: v.id, label: v.name }));
  return (
    <aside className="row-span-2 flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule bg-chalk px-4 py-3">
      <ViewFields
        view={shown}
        kept={selected !== undefined}
        size={sheet.size}
        pixelAspect={sheet.pixelAspect}
        onChange={change}
        picking={picking === 'focus'}
        onPickFocus={() => setPicking(picking === 'focus' ? null : 'focus')}
      />
      {selected && views.length > 1 && (
        <Select label={LABELS.matchScaleOf} help={HELP.matchScaleOf} value="" options={others} onValue={editor.matchScaleOf} />
      )}
      {selected && views.length > 1 && (
        <Select
          label={LABELS.compareWith}
          help={HELP.compareWith}
          value={beside ?? ''}
          options={[...(beside ? [{ value: NONE, label: LABELS.nothing }] : []), ...others]}
          onValue={(id) => onBeside(id === NONE ? null : id)}
        />
      )}
      {selected && (
        <ViewOverrides
          view={shown}
          onChange={change}
          picking={picking === 'without'}
          onPick={() => setPicking(picking === 'without' ? null : 'without')}
        />
      )}
      <SectionFields bounds={bounds} eye={shown.eye} left={editor.left} onPick={editor.pickPoints} />
      <RebaseNotice bounds={transformedBounds(file.transform, revision.bounds)} />
      <ImportedCameras cameras={revision.cameras} onTake={editor.importCameras} />
      {asked}
      {selected && (
        <Button className="mt-auto self-start" onClick={() => editor.remove()}>
          {LABELS.deleteView}
        </Button>
      )}
    </aside>
  );
}
