import { z } from 'zod';
import { cameraOf, idSchema } from '../view/camera.js';
import { offSchema, type ShotKind, viewOf } from './kind.js';

export const stillSchema = z.strictObject({
  id: idSchema,
  name: z.string().min(1).max(80).optional(),
  off: offSchema,
  kind: z.literal('still'),
  views: z
    .array(idSchema)
    .min(1, 'A still needs a view.')
    .max(200)
    .refine((v) => new Set(v).size === v.length, 'A view stands here twice.'),
});

/** One picture of each of its views. */
export const still: ShotKind<typeof stillSchema> = {
  kind: 'still',
  label: 'still',
  moving: false,
  schema: stillSchema,
  defaults: (id, name, view) => ({ id, name, kind: 'still', views: [view] }),
  count: (shot) => shot.views.length,
  poses: (shot, context) =>
    shot.views.map((id) => {
      const view = viewOf(context, id);
      return { view, time: 0, camera: cameraOf(view, context.size, context.pixelAspect) };
    }),
  uses: (shot) => shot.views,
  summary: (shot) => (shot.views.length === 1 ? 'one view' : `${shot.views.length} views`),
};
