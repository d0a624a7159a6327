/** Probes frames of any scene: loads what they are made of, and keeps what was loaded last. */
import type { Frame } from '../../core/frame/frame.js';
import type { WantedProbe } from '../../core/preflight/preflight.js';
import type { FrameProbe } from '../../core/preflight/probe.js';
import { summarizeProbe } from '../../core/preflight/summarizeProbe.js';
import { type AssetProvider, resolveScene } from '../scene/resolveScene.js';
import { FrameProber } from './frameProber.js';

/** Bytes of scenes that are kept at most, beside the one in use. */
const MAX_KEPT_BYTES = 2 ** 30;

/** Estimates of light that are kept, some 27 kilobytes each: another grade, which frames are asked for again and again, leaves them as they are. */
const MAX_LIGHTS_KEPT = 400;

/** Asks frames of one model, by all the scenes that their sections and materials make of it. */
export class SceneProber {
  private readonly probers = new Map<string, FrameProber>();
  /** Estimates of light by WantedProbe.view. */
  private readonly lights = new Map<string, Float32Array>();

  constructor(private readonly module: WebAssembly.Module) {}

  /** Throws where the frame's scene or an image of it cannot be loaded. */
  async probe({ frame, request, view }: Omit<WantedProbe, 'key'>, source: AssetProvider): Promise<FrameProbe> {
    const known = request.light ? this.lights.get(view) : undefined;
    const raw = (await this.proberOf(frame, source)).probe(frame, known ? { ...request, light: false } : request);
    if (known) raw.light = known;
    else if (raw.light) this.keepLight(view, raw.light);
    return summarizeProbe(raw, frame);
  }

  private keepLight(view: string, light: Float32Array): void {
    const [oldest] = this.lights.keys();
    if (this.lights.size >= MAX_LIGHTS_KEPT && oldest !== undefined) this.lights.delete(oldest);
    this.lights.set(view, light);
  }

  private async proberOf(frame: Frame, source: AssetProvider): Promise<FrameProber> {
    const { key, load } = resolveScene(frame, source);
    let prober = this.probers.get(key);
    if (!prober) {
      const scene = await load();
      this.drop();
      prober = new FrameProber(this.module, scene);
    } else this.probers.delete(key);
    this.probers.set(key, prober);
    return prober;
  }

  /** Makes room: the one used longest ago goes first. */
  private drop(): void {
    let bytes = [...this.probers.values()].reduce((sum, p) => sum + p.bytes, 0);
    for (const [key, prober] of this.probers) {
      if (bytes <= MAX_KEPT_BYTES) return;
      bytes -= prober.bytes;
      this.probers.delete(key);
    }
  }
}
