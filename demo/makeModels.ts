/** Entry of the program with which the build writes the demo's models; bundled to dist/demo-models.mjs. */
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { type Model, modelBounds } from '../src/core/model/model.js';
import { writeGlb } from '../src/formats/glb/write.js';
import { MADE_FOLDER, MADE_LIST, type MadeModel, type MadeModels } from './madeModels.js';
import { northmere } from './northmere.js';
import { tern } from './tern.js';

const folder = path.join(path.dirname(process.argv[1]!), MADE_FOLDER);
mkdirSync(folder, { recursive: true });

async function write(model: Model, measured?: string): Promise<MadeModel> {
  const name = `${model.name}.glb`;
  writeFileSync(path.join(folder, name), await writeGlb(model));
  const below = measured && { ...model, parts: model.parts.filter((p) => p.path === measured || p.path.startsWith(`${measured}/`)) };
  return { name, bounds: modelBounds(model), ...(below && { measured: modelBounds(below) }) };
}

const made: MadeModels = {
  northmere: [await write(northmere(), 'Pavilion')],
  tern: [await write(tern()), await write(tern({ revision: 'B' }))],
};
writeFileSync(path.join(folder, MADE_LIST), JSON.stringify(made));
