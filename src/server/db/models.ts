/** Tables as Sequelize models. Documents (sets, part lists) are JSON text, validated by the contract. */
import { type CreationOptional, DataTypes, type InferAttributes, type InferCreationAttributes, Model, type Sequelize } from 'sequelize';
import { defineAccessModels } from './accessModels.js';
import { definePresetModels } from './presetModels.js';
import { defineReviewModels } from './reviewModels.js';
import { id, int, maybeInt, maybeText, real, text } from './columns.js';

/** A design with its revisions, sets and batches. */
export class Project extends Model<InferAttributes<Project>, InferCreationAttributes<Project>> {
  declare id: CreationOptional<number>;
  declare name: string;
  /** When it was deleted; null of one that is there. */
  declare deleted: CreationOptional<string | null>;
}

/** A state of the design model. */
export class Revision extends Model<InferAttributes<Revision>, InferCreationAttributes<Revision>> {
  declare id: CreationOptional<number>;
  declare projectId: number;
  declare letter: string;
  declare fileName: string;
  declare unit: string;
  declare up: string;
  declare hash: string;
  /** ModelSummary as JSON: of a model of many parts tens of megabytes, so it is read where parts are asked for alone. */
  declare summary: string;
  /** ModelDigest as JSON; null where the summary cannot be read. */
  declare digest: CreationOptional<string | null>;
  /** Files as they were uploaded, as JSON. */
  declare originals: CreationOptional<string>;
  /** When it was taken out of sight; null while it is there. */
  declare deleted: CreationOptional<string | null>;
}

/** A set: what is rendered, and how. */
export class PlanSet extends Model<InferAttributes<PlanSet>, InferCreationAttributes<PlanSet>> {
  declare id: CreationOptional<number>;
  declare projectId: number;
  declare version: CreationOptional<number>;
  /** The set file as JSON. */
  declare file: string;
  /** SetDigest as JSON; null before it was made. */
  declare digest: CreationOptional<string | null>;
  /** When it was deleted; null of one that is there. */
  declare deleted: CreationOptional<string | null>;
}

/** A frozen plan that is rendered. */
export class Batch extends Model<InferAttributes<Batch>, InferCreationAttributes<Batch>> {
  declare id: CreationOptional<number>;
  declare projectId: number;
  declare setId: number;
  declare revisionId: number;
  declare number: number;
  declare state: string;
  declare reason: CreationOptional<string | null>;
  /** Folder of its pictures, relative to the data folder. */
  declare folder: string;
  /** The frozen set, and what else makes its frames, as JSON. */
  declare plan: string;
  /** BatchDigest as JSON; null of batches of earlier versions until it is asked for. */
  declare digest: CreationOptional<string | null>;
  declare total: number;
  declare elapsed: CreationOptional<number>;
  declare busy: CreationOptional<number>;
  declare wall: CreationOptional<number>;
  declare created: string;
  /** When it was done or stopped; null before. */
  declare ended: CreationOptional<string | null>;
  /** `go` or `hold`: what happens once its first frames are done and clean. Null where that is over, or nothing comes first. */
  declare gate: CreationOptional<string | null>;
  /** StoredForecast as JSON; null where nobody foresaw it. */
  declare forecast: CreationOptional<string | null>;
  /** PRIORITIES by their place, 0 first. */
  declare priority: CreationOptional<number>;
  /** Place in the queue among those of its priority: less comes first. */
  declare rank: number;
  /** ISO 8601; it is not begun before. Null of one that may begin at once. */
  declare startAt: CreationOptional<string | null>;
  /** RequestKey as JSON, of a batch that was started under a key. */
  declare request: CreationOptional<string | null>;
  /** When it was deleted; null of one that is there. */
  declare deleted: CreationOptional<string | null>;
}

/** A frame of a batch. */
export class BatchFrame extends Model<InferAttributes<BatchFrame>, InferCreationAttributes<BatchFrame>> {
  declare id: CreationOptional<number>;
  declare batchId: number;
  /** Place in the run, from 0. */
  declare position: number;
  declare shot: string;
  declare number: number;
  declare name: string;
  declare identity: string;
  declare state: string;
  declare attempts: CreationOptional<number>;
  declare seconds: CreationOptional<number | null>;
  declare samples: CreationOptional<number | null>;
  declare message: CreationOptional<string | null>;
  /** What ended the sampling of a done frame: samples, time or hand; null before. */
  declare ended: CreationOptional<string | null>;
  /** File names as JSON. */
  declare files: CreationOptional<string>;
  /** What the plan says of it, so that lists need no plan; null of frames of earlier versions until they are asked for. */
  declare kind: CreationOptional<string | null>;
  declare view: CreationOptional<string | null>;
  declare time: CreationOptional<number | null>;
  declare date: CreationOptional<string | null>;
  /** Bytes and SHA-256 of each file, as JSON; null of frames of earlier versions. */
  declare checksums: CreationOptional<string | null>;
  /** What became of a done frame's files: `missing` or `changed`; null where they are as written, as far as is known. */
  declare damage: CreationOptional<string | null>;
  /** 1 where it is rendered before the rest. */
  declare first: CreationOptional<number | null>;
  /** Worker seconds and bytes as foreseen, and SeenTraits as JSON; null where nobody foresaw them. */
  declare foreseen: CreationOptional<number | null>;
  /** EncodedFrame.noise; null where no level was promised. */
  declare noise: CreationOptional<number | null>;
  declare foreseenBytes: CreationOptional<number | null>;
  declare traits: CreationOptional<string | null>;
  /** Place in the order of rendering, from 0. */
  declare sequence: CreationOptional<number | null>;
  /** As filesKeyOf: frames of equal keys have equal files. Null of frames of earlier versions. */
  declare filesKey: CreationOptional<string | null>;
  /** As groundsOf; null of frames of earlier versions. */
  declare grounds: CreationOptional<string | null>;
  /** Id of the frame whose files these are; null of one that was rendered. */
  declare takenFrom: CreationOptional<number | null>;
  /** What a person said of the picture: `accepted` or `redo`; null where nobody did. */
  declare decision: CreationOptional<string | null>;
  /** Why; null where nobody said. */
  declare decisionReason: CreationOptional<string | null>;
  /** As masterKeyOf: what was traced of it, whatever is made of that. */
  declare masterKey: CreationOptional<string | null>;
  /** Its files are of a master: `exact`, as if rendered for them; `refiltered`, since the filter was put on or off afterwards. */
  declare developed: CreationOptional<string | null>;
}

/** Linear light that is kept, of which files are developed. */
export class Master extends Model<InferAttributes<Master>, InferCreationAttributes<Master>> {
  declare id: CreationOptional<number>;
  declare key: string;
  /** Of the frame that was traced. */
  declare identity: string;
  declare bytes: number;
  declare sha256: string;
  declare samples: number;
  /** 1 where beauty is filtered; it may be developed either way. */
  declare filtered: number;
  /** 1 where light is in single precision. */
  declare singles: number;
  declare created: string;
  /** When it was last of use. */
  declare used: string;
}

/** A movie of a batch. */
export class Clip extends Model<InferAttributes<Clip>, InferCreationAttributes<Clip>> {
  declare id: CreationOptional<number>;
  declare batchId: number;
  declare shot: string;
  declare state: string;
  declare fileName: string;
  declare message: CreationOptional<string | null>;
  declare bytes: CreationOptional<number>;
  /** MadeMovie as JSON; null of movies of earlier versions, which are H.264 of all frames at the planned rate. */
  declare made: CreationOptional<string | null>;
  /** What was asked for as JSON (NewClip), to make it again; null of movies of earlier versions. */
  declare asked: CreationOptional<string | null>;
}

/** Binds the models to a connection. The tables themselves are made by the migrations. */
export function defineModels(sequelize: Sequelize): void {
  const options = (tableName: string) => ({ sequelize, tableName, timestamps: false });
  Project.init({ id: id(), name: text(), deleted: maybeText() }, options('projects'));
  Revision.init(
    {
      id: id(),
      projectId: int(),
      letter: text(),
      fileName: text(),
      unit: text(),
      up: text(),
      hash: text(),
      summary: text(),
      digest: maybeText(),
      originals: text('[]'),
      deleted: maybeText(),
    },
    options('revisions'),
  );
  PlanSet.init({ id: id(), projectId: int(), version: int(1), file: text(), digest: maybeText(), deleted: maybeText() }, options('sets'));
  Batch.init(
    {
      id: id(),
      projectId: int(),
      setId: int(),
      revisionId: int(),
      number: int(),
      state: text(),
      reason: maybeText(),
      folder: text(),
      plan: text(),
      digest: maybeText(),
      total: int(),
      elapsed: real(0),
      busy: real(0),
      wall: real(0),
      created: text(),
      ended: maybeText(),
      gate: maybeText(),
      forecast: maybeText(),
      priority: int(1),
      rank: real(),
      startAt: maybeText(),
      request: maybeText(),
      deleted: maybeText(),
    },
    options('batches'),
  );
  BatchFrame.init(
    {
      id: id(),
      batchId: int(),
      position: int(),
      shot: text(),
      number: int(),
      name: text(),
      identity: text(),
      state: text(),
      attempts: int(0),
      seconds: real(),
      samples: maybeInt(),
      message: maybeText(),
      ended: maybeText(),
      files: text('[]'),
      kind: maybeText(),
      view: maybeText(),
      time: real(),
      date: maybeText(),
      checksums: maybeText(),
      damage: maybeText(),
      first: { type: DataTypes.INTEGER, allowNull: true },
      foreseen: real(),
      noise: real(),
      foreseenBytes: real(),
      traits: maybeText(),
      sequence: maybeInt(),
      filesKey: maybeText(),
      grounds: maybeText(),
      takenFrom: maybeInt(),
      decision: maybeText(),
      decisionReason: maybeText(),
      masterKey: maybeText(),
      developed: maybeText(),
    },
    options('frames'),
  );
  Clip.init(
    {
      id: id(),
      batchId: int(),
      shot: text(),
      state: text(),
      fileName: text(),
      message: maybeText(),
      bytes: int(0),
      made: maybeText(),
      asked: maybeText(),
    },
    options('clips'),
  );
  Master.init(
    {
      id: id(),
      key: text(),
      identity: text(),
      bytes: int(),
      sha256: text(),
      samples: int(),
      filtered: int(),
      singles: int(),
      created: text(),
      used: text(),
    },
    options('masters'),
  );
  defineAccessModels(sequelize);
  definePresetModels(sequelize);
  defineReviewModels(sequelize);
}
