/** Routes of projects, and of taking projects and sets away and back. */
import type { Router } from 'express';
import { Op } from 'sequelize';
import { newProject } from '../../contract/contract.js';
import type { ServerContext } from '../context.js';
import { Project } from '../db/models.js';
import {
  createProject,
  deleteProject,
  deleteRevision,
  deleteSet,
  duplicateProject,
  findProject,
  renameProject,
  restoreProject,
  restoreRevision,
  restoreSet,
  toProjectReply,
} from '../projects.js';
import { idOf, parse } from './params.js';

/** Routes of projects, revisions and sets. */
export function projectRoutes(api: Router, context: ServerContext): void {
  /** `deleted` lists those that can be restored instead. */
  api.get('/projects', async (request, response) => {
    const deleted = request.query.deleted !== undefined;
    const projects = await Project.findAll({ where: { deleted: deleted ? { [Op.ne]: null } : null }, order: ['id'] });
    response.json(await Promise.all(projects.map(toProjectReply)));
  });
  api.post('/projects', async (request, response) => {
    const project = await createProject(context, parse(newProject, request.body).name);
    response.status(201).json(await toProjectReply(project));
  });
  api.get('/projects/:id', async (request, response) => {
    response.json(await toProjectReply(await findProject(idOf(request.params.id, 'project'))));
  });
  api.put('/projects/:id', async (request, response) => {
    const { name } = parse(newProject, request.body);
    response.json(await toProjectReply(await renameProject(context, idOf(request.params.id, 'project'), name)));
  });
  api.delete('/projects/:id', async (request, response) => {
    await deleteProject(context, idOf(request.params.id, 'project'));
    response.json({});
  });
  api.post('/projects/:id/restore', async (request, response) => {
    response.json(await toProjectReply(await restoreProject(context, idOf(request.params.id, 'project'))));
  });
  api.post('/projects/:id/duplicate', async (request, response) => {
    response.status(201).json(await toProjectReply(await duplicateProject(context, idOf(request.params.id, 'project'))));
  });
  api.delete('/sets/:id', async (request, response) => {
    await deleteSet(context, idOf(request.params.id, 'set'));
    response.json({});
  });
  api.delete('/revisions/:id', async (request, response) => {
    await deleteRevision(context, idOf(request.params.id, 'revision'));
    response.json({});
  });
  api.post('/revisions/:id/restore', async (request, response) => {
    await restoreRevision(context, idOf(request.params.id, 'revision'));
    response.json({});
  });
  api.post('/sets/:id/restore', async (request, response) => {
    await restoreSet(context, idOf(request.params.id, 'set'));
    response.json({});
  });
}
