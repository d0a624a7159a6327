/** What a route of the HTTP interface takes and answers. */
import type * as z from 'zod';

/** One route. Paths have their parameters as `:name`; all below `/api`. */
export interface RouteSpec {
  /** What it does, in one sentence without a full stop. */
  does: string;
  query?: z.ZodType;
  /** JSON of this shape, or files as multipart/form-data. */
  body?: z.ZodType | 'files';
  /** JSON of this shape, or a file of this media type; nothing (204) where absent. */
  reply?: z.ZodType | `${string}/${string}`;
  /** Status of success; 200 where absent, 204 where it answers nothing. */
  status?: 200 | 201 | 202;
}

/** Routes by method and path, as `GET /projects/:id`. */
export type RouteTable = Readonly<Record<`${'GET' | 'POST' | 'PUT' | 'DELETE'} /${string}`, RouteSpec>>;
