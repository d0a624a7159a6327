/** A frame as the plan makes it: a plan has up to a hundred thousand, so each is one object and no more. */
import type { CompiledAssignments } from '../materials/assignments.js';
import type { Pose } from './pose.js';
import type { Legend } from './legend.js';
import type { FrameSun } from '../stage/daylight.js';
import type { Stage } from '../stage/stage.js';
import type { Camera, Size } from '../camera/view.js';
import type { Frame, Section, Shutter, Turn } from './frame.js';
import { identityOf, seedOf, type SharedTexts } from './identity.js';

/** What all frames of a run have alike, and the content hash of the scene that they are of. */
export interface SharedFields extends Pick<
  Frame,
  'shot' | 'kind' | 'grade' | 'transform' | 'pixelAspect' | 'sampling' | 'passes' | 'transparent' | 'lines' | 'files'
> {
  scene: string;
  /** Texts that the frames of a plan share for their identities. */
  texts: SharedTexts;
}

/** What one has of its own, beside what its pose says. */
export interface FrameFields {
  index: number;
  number: number;
  passNames: string[];
  variant: string | undefined;
  section: Section | undefined;
  stage: Stage;
  size: Size;
  materials: CompiledAssignments | undefined;
  sun: FrameSun | undefined;
  legend: Legend | undefined;
}

/** A frame as planned; its identity is computed when it is first asked for, as most are never asked. */
export class PlannedFrame implements Frame {
  readonly shot: string;
  readonly kind: string;
  readonly view: string;
  readonly variant?: string;
  readonly index: number;
  readonly number: number;
  readonly name: string;
  readonly passNames: string[];
  readonly time: number;
  readonly camera: Camera;
  readonly turn?: Turn;
  readonly shutter?: Shutter;
  readonly section?: Section;
  readonly stage: Stage;
  readonly size: Size;
  readonly materials?: CompiledAssignments;
  readonly sun?: FrameSun;
  readonly legend?: Legend;
  readonly grade: Frame['grade'];
  readonly transform?: Frame['transform'];
  readonly pixelAspect: number;
  readonly sampling: Frame['sampling'];
  readonly passes: Frame['passes'];
  readonly transparent: boolean;
  readonly lines?: Frame['lines'];
  readonly files: Frame['files'];
  readonly #scene: string;
  readonly #texts: SharedTexts;
  #identity: string | undefined = undefined;
  #seed: number | undefined = undefined;

  constructor(alike: SharedFields, pose: Pose, own: FrameFields) {
    this.shot = alike.shot;
    this.kind = alike.kind;
    this.view = pose.view.id;
    this.variant = own.variant;
    this.index = own.index;
    this.number = own.number;
    this.name = own.passNames[0]!;
    this.passNames = own.passNames;
    this.time = pose.time;
    this.camera = pose.camera;
    this.turn = pose.turn;
    this.shutter = pose.shutter;
    this.section = own.section;
    this.stage = own.stage;
    this.size = own.size;
    this.materials = own.materials;
    this.sun = own.sun;
    this.legend = own.legend;
    this.grade = alike.grade;
    this.transform = alike.transform;
    this.pixelAspect = alike.pixelAspect;
    this.sampling = alike.sampling;
    this.passes = alike.passes;
    this.transparent = alike.transparent;
    this.lines = alike.lines;
    this.files = alike.files;
    this.#scene = alike.scene;
    this.#texts = alike.texts;
  }

  // Hashing would take most of the time of a plan, and few who read one ask for it.
  get identity(): string {
    return (this.#identity ??= identityOf(this, this.#scene, this.#texts));
  }

  get seed(): number {
    return (this.#seed ??= seedOf(this, this.#texts));
  }
}
