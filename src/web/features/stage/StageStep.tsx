import { type ReactNode, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { Vec3 } from '../../../core/math/bounds.js';
import { resolveTransform, withPlinth } from '../../../core/model/modelTransform.js';
import { withStage } from '../../../core/edit/editSet.js';
import { subjectBounds } from '../../../core/planning/planFrames.js';
import { stageOf } from '../../../core/plan/set.js';
import type { LocalDateTime } from '../../../core/units/localTime.js';
import { daylightOf, daylightSchema, type FrameSun, sunPosition } from '../../../core/stage/daylight.js';
import type { Site } from '../../../core/stage/site.js';
import { STAGE_PRESETS, resolveStage, type StageSettings } from '../../../core/stage/stage.js';
import { formatHex } from '../../../core/units/colour.js';
import { cameraOf, type View, viewProblem } from '../../../core/camera/view.js';
import { defaultView } from '../../../core/camera/defaultView.js';
import { useWorkspace } from '../../app/workspace.js';
import { Button, EmptyState, Select, PageHeader, Checkbox } from '../../ui/controls.js';
import { Thumbnail, thumbnailUrl } from '../../ui/Thumbnail.js';
import { SettingsOf } from '../../forms/SettingsOf.js';
import { Viewport } from '../../viewport/Viewport.js';
import { usePreview } from '../../preview/usePreview.js';
import { BackdropFields } from './BackdropFields.js';
import { DaylightFields } from './DaylightFields.js';
import { DaylightPanel } from './DaylightPanel.js';
import { GradeFields } from './GradeFields.js';
import { GroundFields } from './GroundFields.js';
import { LightFields } from './LightFields.js';
import { LightHandles } from './LightHandles.js';
import { SiteFields } from './SiteFields.js';
import { PresetPicker } from './PresetPicker.js';
import { EnvironmentFields } from './EnvironmentFields.js';
import { HELP, LABELS, MESSAGES } from './words.js';
import { toast } from '../../state/toast.js';

/** Where the sun is first looked for, until a place is given. */
const FIRST_SITE: Site = { latitude: 59.9, longitude: 19.3, elevation: 4, north: 0, timeZone: 'Europe/Mariehamn' };

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
  const [query, setQuery] = useSearchParams();
  // One of the further stages, or the set's own.
  const further = file.stages?.find((s) => s.id === query.get('stage'));
  const stage = stageOf(file, further?.id);
  const bounds = revision && subjectBounds(file, revision.bounds);
  const [chosen, setChosen] = useState<string | null>(null);
  const [moved, setMoved] = useState<{ eye: Vec3; target: Vec3 } | null>(null);
  const kept = file.views.find((v) => v.id === chosen) ?? file.views[0];
  const [lightId, setLightId] = useState<string | null>(null);
  const [dragged, setDragged] = useState<LocalDateTime | null>(null);
  const base: View | null = kept ?? (bounds ? defaultView(bounds, sheet.size, sheet.pixelAspect) : null);
  const view = base && moved ? { ...base, ...moved, keepVerticals: base.keepVerticals && viewProblem({ ...base, ...moved }) === null } : base;
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
  const change = (values: Partial<StageSettings>): string | null => {
    const problem = edit((f) => withStage(f, further?.id, { ...stageOf(f, further?.id), ...values }));
    if (problem) toast.error(problem);
    return problem;
  };
  const camera = cameraOf(view, sheet.size, sheet.pixelAspect);
  const floor = withPlinth(file.transform, bounds);
  const daylight = stage.daylight && dragged ? { ...stage.daylight, ...dragged } : stage.daylight;
  const laid = resolveStage({ ...stage, daylight }, floor);
  const lights = stage.lights ?? [];
  const setLights = (next: typeof lights): string | null => change({ lights: next.length > 0 ? next : undefined });
  const source = daylight ? 'daylight' : stage.environment ? 'picture' : 'ready';
  const litBy = (next: string): void => {
    if (next === 'daylight') change({ site: stage.site ?? FIRST_SITE, daylight: daylightSchema.parse({}) });
    else change({ daylight: undefined });
  };
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
          onMove={setMoved}
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
            <PresetPicker chosen={further?.id} onChoose={(id) => setQuery(id ? { stage: id } : {})} />
            {file.views.length > 1 && (
              <Select
                label={LABELS.previewView}
                help={HELP.previewView}
                value={kept?.id ?? ''}
                options={file.views.map((v) => ({ value: v.id, label: v.name }))}
                onValue={(id) => {
                  setChosen(id);
                  setMoved(null);
                }}
              />
            )}
            <Select
              label={LABELS.lighting}
              help={HELP.lighting}
              value={source === 'daylight' ? 'daylight' : 'ready'}
              options={[
                { value: 'ready', label: LABELS.stagePreset },
                { value: 'daylight', label: LABELS.daylight },
              ]}
              onValue={litBy}
            />
            {daylight && stage.site && (
              <>
                <DaylightFields daylight={daylight} site={stage.site} onChange={(next) => change({ daylight: next })} />
                {stage.site.latitude === FIRST_SITE.latitude && stage.site.longitude === FIRST_SITE.longitude && !stage.site.name && (
                  <p className="text-sm text-ochre">{MESSAGES.thisSiteIsA}</p>
                )}
                <SiteFields site={stage.site} bounds={floor} onChange={(site) => change({ site })} />
              </>
            )}
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
            <section className="border-t border-rule pt-3">
              <Checkbox
                label={LABELS.modelLights}
                help={HELP.modelLights}
                checked={stage.modelLights}
                onChecked={(modelLights) => change({ modelLights })}
              />
              {stage.modelLights &&
                (revision.lightPaths ?? []).length > 1 &&
                revision.lightPaths!.map((path) => (
                  <Checkbox
                    key={path}
                    label={path}
                    help={HELP.oneModelLight}
                    checked={!stage.modelLightsOff?.includes(path)}
                    onChecked={(on) => {
                      const off = [...(stage.modelLightsOff ?? []).filter((p) => p !== path), ...(on ? [] : [path])];
                      change({ modelLightsOff: off.length > 0 ? off : undefined });
                    }}
                  />
                ))}
              {revision.lights === 0 && stage.modelLights && <p className="text-sm text-ochre">{MESSAGES.noEffectThisModel}</p>}
            </section>
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
          <div className="flex flex-wrap gap-x-2.5 gap-y-2 border-t border-ink p-[18px]" role="radiogroup" aria-label={LABELS.stagePresets}>
            {STAGE_PRESETS.map((ready) => (
              <button
                key={ready}
                type="button"
                role="radio"
                aria-checked={stage.preset === ready}
                onClick={() => change({ preset: ready })}
                className={`w-[130px] border-b-[3px] pb-1 text-left ${stage.preset === ready ? 'border-madder font-semibold' : 'border-transparent'}`}
              >
                <span className="flex h-[74px] items-center justify-center bg-mount">
                  <Thumbnail
                    src={thumbnailUrl(setId, revision.id, { view: kept?.id ?? '', stage: ready }, version, 320)}
                    alt=""
                    className="size-full object-contain"
                  />
                </span>
                <span className="pt-1">{ready}</span>
              </button>
            ))}
          </div>
        )}
      </div>
    </>
  );
}
