import * as z from 'zod';
import { clockSchema, dateSchema } from '../../units/localTime.js';
import { idSchema } from '../../camera/view.js';
import { gradeSchema } from '../../image/grade.js';
import { shotBase, type ShotKind, viewOf } from '../kind.js';

/** One frame a view. */
export const stillSchema = z.strictObject({
  ...shotBase,
  kind: z.literal('still'),
  views: z
    .array(idSchema)
    .min(1, 'A still needs a view.')
    .max(200)
    .refine((v) => new Set(v).size === v.length, 'A view is listed twice.'),
  /** Civil days and times of the site: each view once at each of them. */
  times: z
    .array(z.strictObject({ date: dateSchema, time: clockSchema }))
    .min(1)
    .max(366)
    .refine((t) => new Set(t.map((x) => `${x.date} ${x.time}`)).size === t.length, 'A time is listed twice.')
    .optional(),
  /** Grades of some of its views, by id: they replace that of the shot and of the set. */
  viewGrades: z.record(idSchema, gradeSchema).optional(),
});

/** One picture of each of its views, in each of its variants, at each of its times. */
export const still: ShotKind<typeof stillSchema> = {
  kind: 'still',
  label: 'still',
  moving: false,
  schema: stillSchema,
  defaults: (id, name, view) => ({ id, name, kind: 'still', views: [view] }),
  count: (shot) => shot.views.length * (shot.variants?.length ?? 1) * (shot.times?.length ?? 1),
  poses: (shot, context) =>
    shot.views.flatMap((id) => {
      const view = viewOf(context, id);
      const camera = context.cameraOf(view);
      return (shot.variants ?? [undefined]).flatMap((variant) =>
        (shot.times ?? [undefined]).map((moment) => ({
          view: variant === undefined ? view : { ...view, overrides: { ...view.overrides, variant } },
          time: 0,
          camera,
          ...(moment && { daylight: moment }),
          ...(shot.viewGrades?.[id] && { grade: shot.viewGrades[id] }),
        })),
      );
    }),
  requiredTokens: (shot) => [...(shot.variants ? (['variant'] as const) : []), ...(shot.times ? (['date', 'time'] as const) : [])],
  viewPaths: (shot) => shot.views.map((view, i) => [view, ['views', i]]),
  viewGrade: (shot, view) => shot.viewGrades?.[view],
  withViewGrade(shot, view, grade) {
    const { [view]: _, ...others } = shot.viewGrades ?? {};
    const viewGrades = grade ? { ...others, [view]: grade } : others;
    return { ...shot, viewGrades: Object.keys(viewGrades).length > 0 ? viewGrades : undefined };
  },
  siteReason: (shot) => (shot.times ? 'names times' : null),
  summary: (shot) =>
    [
      shot.views.length === 1 ? 'one view' : `${shot.views.length} views`,
      ...(shot.variants ? [`${shot.variants.length} variants`] : []),
      ...(shot.times ? [`${shot.times.length} times`] : []),
    ].join(' × '),
};
