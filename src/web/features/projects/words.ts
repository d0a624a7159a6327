/** What is said here: read as a whole by `npm run words`. */
import type { WordTable } from '../../wordTable.js';

/** Names of things and actions: one to four words. */
export const LABELS = {
  coldEasel: 'Cold Easel',
  queue: 'Queue',
  access: 'Access',
  projects: 'Projects',
  newProject: 'New project',
  projectName: 'Project name',
  create: 'Create',
  actionsOf: (name: string) => `Actions of ${name}`,
  rename: 'Rename',
  duplicate: 'Duplicate',
  delete: 'Delete',
  deletedProjects: (count: number) => `Deleted projects (${count})`,
  restore: 'Restore',
  restoreOne: (name: string) => `Restore ${name}`,
  revision: (fileName: string, letter: string) => `${fileName}, revision ${letter}`,
  noModelYet: 'No model yet',
} satisfies WordTable;

/** What a control does, its unit, range and cost: whole sentences. */
export const HELP = {
  projectName: 'One to 80 characters. Escape keeps the name.',
  noProjectYet: 'No project yet.',
} satisfies WordTable;

/** What happened, and what to do. */
export const MESSAGES = {
  giveAName: 'Give it a name.',
  nameTheProjectAbove: 'Drop a model here to make a project of it, or name the project above and create it.',
  theSetCannotBe: (name: string) => `The set “${name}” cannot be read.`,
  partsTriangles: (partCount: number, triangles: string) => `${partCount} parts · ${triangles} triangles`,
} satisfies WordTable;
