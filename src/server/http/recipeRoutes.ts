/** Routes of recipes, kept and shipped. */
import { type Router } from 'express';
import { changeRecipe, fromShipped, newRecipe } from '../../contract/recipes.js';
import { fileWord } from '../../core/plan/names.js';
import { recipeFile, type RecipeKind } from '../../core/plan/recipes.js';
import { SHIPPED } from '../../core/plan/shipped.js';
import { type Caller } from '../access/access.js';
import { type ServerContext } from '../context.js';
import { PlanSet, RecipeRow } from '../db/models.js';
import { findProject } from '../projects.js';
import { findRevision } from '../revisions.js';
import { addSet, describeSet } from '../sets.js';
import { alterRecipe, describeRecipe, findRecipe, keepRecipe, madeToMeasure, shippedOf } from '../recipes.js';
import { SMALL_WIDTHS, smallFrame } from '../small.js';
import { idOf, parse } from './problem.js';

export function recipeRoutes(api: Router, context: ServerContext): void {
  api.get('/recipes', async (request, response) => {
    const { kind } = request.query;
    const rows = await RecipeRow.findAll({ ...(typeof kind === 'string' && { where: { kind } }), order: ['name'] });
    response.json(rows.map(describeRecipe));
  });
  api.post('/recipes', async (request, response) => {
    const { kind, name, body } = parse(newRecipe, request.body);
    response.status(201).json(describeRecipe(await keepRecipe(context, kind, name, body)));
  });
  api.put('/recipes/:id', async (request, response) => {
    const row = await findRecipe(idOf(request.params.id, 'preset'));
    response.json(describeRecipe(await alterRecipe(context, row, parse(changeRecipe, request.body))));
  });
  api.delete('/recipes/:id', async (request, response) => {
    const row = await findRecipe(idOf(request.params.id, 'preset'));
    await context.database.write((transaction) => row.destroy({ transaction }));
    await context.access.audit((response.locals.caller as Caller).who, 'preset deleted', row.name);
    response.json({});
  });
  api.get('/recipes/:id/export', async (request, response) => {
    const row = await findRecipe(idOf(request.params.id, 'preset'));
    response
      .attachment(`${fileWord(row.name)}.recipe.json`)
      .type('application/json')
      .send(recipeFile({ kind: row.kind as RecipeKind, name: row.name, body: JSON.parse(row.body) as never }));
  });

  api.get('/shipped', (_request, response) => {
    response.json(SHIPPED.map(({ id, name, help }) => ({ id, name, help })));
  });
  api.post('/projects/:id/sets/shipped', async (request, response) => {
    const project = await findProject(idOf(request.params.id, 'project'));
    const { recipe, revision, part } = parse(fromShipped, request.body);
    const file = await madeToMeasure(context, shippedOf(recipe), project, await findRevision(revision), { year: new Date().getUTCFullYear(), part });
    response.status(201).json(describeSet(await addSet(context, project, file)));
  });
  api.get('/projects/:id/shipped/:recipe/small', async (request, response) => {
    const project = await findProject(idOf(request.params.id, 'project'));
    const revision = await findRevision(idOf(request.query.revision, 'revision'));
    const recipe = shippedOf(request.params.recipe);
    const part = typeof request.query.part === 'string' && request.query.part !== '' ? request.query.part : undefined;
    const file = await madeToMeasure(context, recipe, project, revision, { year: new Date().getUTCFullYear(), part });
    const set = PlanSet.build({ projectId: project.id, file: JSON.stringify(file) });
    const bytes = await smallFrame(context, project, set, revision, recipe.cover, SMALL_WIDTHS[1]!);
    response.type('image/webp').send(bytes);
  });
}
