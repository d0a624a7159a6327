/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  coldEasel: 'Cold Easel',
  access: 'Access',
  projects: 'Projects',
  newProject: 'New project',
  projectName: 'Project name',
  create: 'Create',
  revision: (fileName: string, letter: string) => `${fileName}, revision ${letter}`,
  noModelYet: 'No model yet',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  noProjectYet: 'No project yet.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  nameTheProjectAbove: 'Name the project above and create it. Its model comes next.',
  theSetCannotBe: (name: string) => `The set “${name}” cannot be read.`,
  partsTriangles: (partCount: number, triangles: string) => `${partCount} parts · ${triangles} triangles`,
} satisfies WordTable;
