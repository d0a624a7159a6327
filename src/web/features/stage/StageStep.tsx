import { type ReactNode, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Vec3 } from '../../../core/math/bounds.js';
import { resolveTransform, withPlinth } from '../../../core/model/modelTransform.js';
import type { LocalDateTime } from '../../../core/units/localTime.js';
import { daylightOf, type FrameSun, sunPosition } from '../../../core/stage/daylight.js';
import { resolveStage } from '../../../core/stage/stage.js';
import { formatHex } from '../../../core/units/colour.js';
import { cameraOf } from '../../../core/camera/view.js';
import { useWorkspace } from '../../app/workspace.js';
import { Button, EmptyState, Select, PageHeader } from '../../ui/controls.js';
import { thumbnailUrl } from '../../ui/Thumbnail.js';
import { SettingsOf } from '../../forms/SettingsOf.js';
import { Viewport } from '../../viewport/Viewport.js';
import { usePreview } from '../../preview/usePreview.js';
import { BackdropFields } from './BackdropFields.js';
import { DaylightPanel } from './DaylightPanel.js';
import { GradeFields } from './GradeFields.js';
import { GroundFields } from './GroundFields.js';
import { LightFields } from './LightFields.js';
import { LightHandles } from './LightHandles.js';
import { LightingFields } from './LightingFields.js';
import { ModelLights } from './ModelLights.js';
import { PresetStrip } from './PresetStrip.js';
import { useStageEditor } from './useStageEditor.js';
import { PresetPicker } from './PresetPicker.js';
import { EnvironmentFields } from './EnvironmentFields.js';
import { HELP, LABELS, MESSAGES } from './words.js';
import { toast } from '../../state/toast.js';

/** Says where the sun stands, over the viewport. */
function SkyMark({ sun }: { sun: FrameSun }): ReactNode {
  return (
    <p className="num mark mark-bl pointer-events-none text-sm">{MESSAGES.sunAzimuthAltitude(sun.azimuth.toFixed(1), sun.altitude.toFixed(1))}</p>
  );
}

/** Ground and lighting of the subject: a stage preset, daylight or an environment image, and what is changed of it. */
export default function StageStep(): ReactNode {
  const { project, setId, revision, plan } = useWorkspace();
  const navigate = useNavigate();
  const { file, version, edit } = plan!;
  const { sheet } = file;
  const { further, chooseStage, stage, change, bounds, kept, chooseView, view, move } = useStageEditor();
  const [lightId, setLightId] = useState<string | null>(null);
  const [dragged, setDragged] = useState<LocalDateTime | null>(null);
  // The live preview shows the stage that is on the desk.
  const live = usePreview(view && further ? { ...view, overrides: { ...view.overrides, stage: further.id } } : view);
  if (!revision || !bounds || !view) {
    return (
      <>
        <PageHeader title={LABELS.stage} />
        <EmptyState title={HELP.aStageNeedsA}>
          <Button primary onClick={() => void navigate(`/p/${project.id}/s/${setId}/model`)}>
            {LABELS.importModel}
          </Button>
        </EmptyState>
      </>
    );
  }
  const camera = cameraOf(view, sheet.size, sheet.pixelAspect);
  const floor = withPlinth(file.transform, bounds);
  const daylight = stage.daylight && dragged ? { ...stage.daylight, ...dragged } : stage.daylight;
  const laid = resolveStage({ ...stage, daylight }, floor);
  const lights = stage.lights ?? [];
  const setLights = (next: typeof lights): string | null => change({ lights: next.length > 0 ? next : undefined });
  return (
    <>
      <PageHeader
        title={LABELS.stage}
        facts={daylight ? `${daylight.date} ${daylight.time}, ${daylight.sky}` : stage.environment ? LABELS.litByAnEnvironment : stage.preset}
      >
        {live.controls}
      </PageHeader>
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_252px] grid-rows-[minmax(0,1fr)_auto]">
        <Viewport
          model={revision.hash}
          camera={camera}
          size={sheet.size}
          pixelAspect={sheet.pixelAspect}
          stage={laid}
          {...(laid.sky && { sun: laid.sky.sun })}
          section={file.section}
          materials={file.materials}
          place={resolveTransform(file.transform, revision.bounds)}
          grade={file.grade}
          onMove={move}
          picture={live.picture}
          overlay={
            live.picture ? null : (
              <LightHandles lights={lights} chosen={lightId} camera={camera} size={sheet.size} onChoose={setLightId} onChange={setLights} />
            )
          }
        >
          {live.caption}
          {daylight && !live.picture && <SkyMark sun={sunPosition(daylight, stage.site)} />}
          {stage.environment && !daylight && !live.picture && (
            <p className="mark mark-bl pointer-events-none text-sm">{MESSAGES.theEnvironmentImageShows}</p>
          )}
        </Viewport>
        <SettingsOf set={file} owners={{ stage }}>
          <aside className="row-span-2 flex min-h-0 flex-col gap-3 overflow-auto border-l border-rule bg-chalk px-4 py-3">
            <PresetPicker chosen={further?.id} onChoose={chooseStage} />
            {file.views.length > 1 && (
              <Select
                label={LABELS.previewView}
                help={HELP.previewView}
                value={kept?.id ?? ''}
                options={file.views.map((v) => ({ value: v.id, label: v.name }))}
                onValue={chooseView}
              />
            )}
            <LightingFields stage={stage} daylight={daylight} floor={floor} onChange={change} />
            <BackdropFields
              stage={stage}
              first={formatHex(laid.backdrop.middle)}
              sheet={sheet}
              onChange={change}
              onSize={(size) => {
                const problem = edit((f) => ({ ...f, sheet: { ...f.sheet, size } }));
                if (problem) toast.error(problem);
              }}
            />
            <GroundFields
              ground={stage.ground}
              base={laid.base}
              floor={floor}
              floorUrl={`/sets/${setId}/floor?revision=${revision.id}&v=${version}`}
              onChange={change}
            />
            <LightFields
              lights={lights}
              chosen={lightId}
              onChoose={setLightId}
              {...(daylight && { daylight: 1000 * daylightOf(daylight, stage.site).lux.level })}
              seen={{ eye: view.eye as Vec3, target: view.target as Vec3 }}
              onChange={setLights}
            />
            <GradeFields
              grade={file.grade}
              daylight={daylight !== undefined}
              meterUrl={`/sets/${setId}/exposure?revision=${revision.id}&view=${encodeURIComponent(kept?.id ?? '')}${further ? `&stage=${encodeURIComponent(further.id)}` : ''}&v=${version}`}
              passes={file.sheet.passes}
              onChange={(grade) => edit((f) => ({ ...f, grade }))}
            />
            <EnvironmentFields environment={stage.environment} onChange={(environment) => change({ environment })} />
            <ModelLights stage={stage} count={revision.lights} paths={revision.lightPaths ?? []} onChange={change} />
            {live.asked}
          </aside>
        </SettingsOf>
        {daylight && stage.site ? (
          <DaylightPanel
            setId={setId}
            revision={revision.id}
            version={version}
            bounds={floor}
            site={stage.site}
            daylight={daylight}
            target={view.target as Vec3}
            onTime={(civil, done) => {
              // Light follows the hand; the set changes when the hand lets go.
              setDragged(done ? null : civil);
              if (done) change({ daylight: { ...stage.daylight!, ...civil, later: civil.later } });
            }}
          />
        ) : (
          <PresetStrip
            chosen={stage.preset}
            picture={(ready) => thumbnailUrl(setId, revision.id, { view: kept?.id ?? '', stage: ready }, version, 320)}
            onChoose={(preset) => change({ preset })}
          />
        )}
      </div>
    </>
  );
}
