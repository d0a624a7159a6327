/** Scenes in kernel memory, attached to every worker; the one that was used longest ago makes room for a new one. */
import type { CompiledScene } from '../scene/compile.js';
import { loadScene, type SceneHost } from '../upload/loadScene.js';
import type { Crew } from './crew.js';

/** A scene in memory, with who uses it. */
export interface LoadedScene {
  id: number;
  host: SceneHost;
  /** Frame slots that no job uses. */
  free: number[];
  /** Jobs that use it. */
  jobs: number;
  lastUse: number;
}

const MAX_SCENES = 3;

/** Scenes in memory; those that were not used for longest go first where room is needed. */
export class SceneCache {
  private readonly scenes = new Map<string, LoadedScene>();
  private serial = 0;
  private clock = 0;

  constructor(
    private readonly module: WebAssembly.Module,
    private readonly crew: Crew,
  ) {}

  /** The scene of that key, if it is in memory. */
  get(key: string): LoadedScene | undefined {
    return this.scenes.get(key);
  }

  /** Counts a job of the scene. */
  use(scene: LoadedScene): void {
    scene.jobs++;
    scene.lastUse = ++this.clock;
  }

  /** Loads the scene, or hands out the one of that key that is there. */
  attach(key: string, compiled: CompiledScene): LoadedScene {
    const present = this.scenes.get(key);
    if (present) return present;
    if (this.scenes.size >= MAX_SCENES) {
      const idle = [...this.scenes].filter(([, s]) => s.jobs === 0).sort((a, b) => a[1].lastUse - b[1].lastUse)[0];
      if (idle) {
        this.scenes.delete(idle[0]);
        this.crew.tellAll({ type: 'detach', scene: idle[1].id });
      }
    }
    const host = loadScene(this.module, compiled, this.crew.size);
    const free = Array.from({ length: host.slots }, (_, i) => i);
    const attached: LoadedScene = { id: ++this.serial, host, free, jobs: 0, lastUse: ++this.clock };
    this.scenes.set(key, attached);
    for (let place = 0; place < this.crew.size; place++) this.tell(place, attached);
    return attached;
  }

  /** Attaches every scene to a worker that is new in its place. */
  attachTo(place: number): void {
    for (const scene of this.scenes.values()) this.tell(place, scene);
  }

  private tell(place: number, { id, host }: LoadedScene): void {
    this.crew.tell(place, { type: 'attach', scene: id, memory: host.memory, area: host.areas[place]! });
  }
}
