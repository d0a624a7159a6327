/** What the frames of a plan render of their model: read off its compiled scene once, and kept beside it. */
import { readFileSync, renameSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Frame } from '../../core/frame/frame.js';
import { type ModelContent, type RenderedContent, renderedContent } from '../../core/frame/renderedContent.js';
import { TEMPORARY_SUFFIX } from '../../engine/node/files.js';
import { decodeScene } from '../../engine/scene/compile.js';
import { sceneContent } from '../../engine/node/sceneContent.js';

/** Raised where the same scene gives other hashes. */
const CONTENT_FORM = 1;

function readContent(file: string): ModelContent | null {
  try {
    const { form, content } = JSON.parse(readFileSync(file, 'utf8')) as { form: number; content: ModelContent };
    return form === CONTENT_FORM ? content : null;
  } catch {
    return null;
  }
}

/** Null where the model has no scene of this version here: it is known as a whole then. */
function contentOfModel(models: string, hash: string): ModelContent | null {
  const file = path.join(models, `${hash}.content.json`);
  const known = readContent(file);
  if (known) return known;
  try {
    const scene = decodeScene(new Uint8Array(readFileSync(path.join(models, `${hash}.scene`))));
    const content = scene && sceneContent(scene);
    if (!content) return null;
    // Made anew where it is lost, so that it need not be flushed; but never seen half written.
    writeFileSync(`${file}${TEMPORARY_SUFFIX}`, JSON.stringify({ form: CONTENT_FORM, content }));
    renameSync(`${file}${TEMPORARY_SUFFIX}`, file);
    return content;
  } catch {
    return null;
  }
}

/** Hashes of what of one model reaches each frame. */
export class ContentOfFrames {
  private model: ModelContent | null | undefined;
  private readonly known = new Map<string, RenderedContent>();

  /** @param models folder of the compiled models. @param scene content hash of the plan's model. */
  constructor(
    private readonly models: string,
    private readonly scene: string,
  ) {}

  /** What a frame of the plan renders. */
  of({ materials, transform }: Pick<Frame, 'materials' | 'transform'>): RenderedContent {
    const plinth = transform?.plinth?.material;
    const key = `${materials?.id ?? ''}\n${plinth ?? ''}`;
    let rendered = this.known.get(key);
    if (!rendered) {
      if (this.model === undefined) this.model = contentOfModel(this.models, this.scene);
      rendered = this.model ? renderedContent(this.model, materials, plinth) : { model: this.scene, materials: key };
      this.known.set(key, rendered);
    }
    return rendered;
  }
}
