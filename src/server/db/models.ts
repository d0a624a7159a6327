/** Tables as Sequelize models. Documents (sets, part lists) are JSON text, validated by the contract. */
import { type CreationOptional, DataTypes, type InferAttributes, type InferCreationAttributes, Model, type Sequelize } from 'sequelize';

export class Project extends Model<InferAttributes<Project>, InferCreationAttributes<Project>> {
  declare id: CreationOptional<number>;
  declare name: string;
}

export class Revision extends Model<InferAttributes<Revision>, InferCreationAttributes<Revision>> {
  declare id: CreationOptional<number>;
  declare projectId: number;
  declare letter: string;
  declare fileName: string;
  declare unit: string;
  declare up: string;
  declare hash: string;
  /** ModelSummary as JSON. */
  declare summary: string;
}

export class PlanSet extends Model<InferAttributes<PlanSet>, InferCreationAttributes<PlanSet>> {
  declare id: CreationOptional<number>;
  declare projectId: number;
  declare version: CreationOptional<number>;
  /** The set file as JSON. */
  declare file: string;
}

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
  declare total: number;
  declare elapsed: CreationOptional<number>;
  declare busy: CreationOptional<number>;
  declare wall: CreationOptional<number>;
  declare created: string;
  /** When it was done or stopped; null before. */
  declare ended: CreationOptional<string | null>;
}

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
}

export class Clip extends Model<InferAttributes<Clip>, InferCreationAttributes<Clip>> {
  declare id: CreationOptional<number>;
  declare batchId: number;
  declare shot: string;
  declare state: string;
  declare fileName: string;
  declare message: CreationOptional<string | null>;
  declare bytes: CreationOptional<number>;
}

/** What is kept under a name to be used again. */
export class RecipeRow extends Model<InferAttributes<RecipeRow>, InferCreationAttributes<RecipeRow>> {
  declare id: CreationOptional<number>;
  declare kind: string;
  declare name: string;
  /** What it holds, as JSON. */
  declare body: string;
  /** 1 where a new project begins with it. */
  declare isDefault: number;
}

// Sequelize writes into the definitions it is given, so each column needs an object of its own.
const id = () => ({ type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true });
const int = (defaultValue?: number) => ({ type: DataTypes.INTEGER, allowNull: false, defaultValue });
const maybeInt = () => ({ type: DataTypes.INTEGER, allowNull: true });
const text = (defaultValue?: string) => ({ type: DataTypes.TEXT, allowNull: false, defaultValue });
const maybeText = () => ({ type: DataTypes.TEXT, allowNull: true });
const real = (defaultValue?: number) => ({ type: DataTypes.REAL, allowNull: true, defaultValue });

/** Binds the models to a connection. The tables themselves are made by the migrations. */
export function defineModels(sequelize: Sequelize): void {
  const options = (tableName: string) => ({ sequelize, tableName, timestamps: false });
  Project.init({ id: id(), name: text() }, options('projects'));
  Revision.init(
    { id: id(), projectId: int(), letter: text(), fileName: text(), unit: text(), up: text(), hash: text(), summary: text() },
    options('revisions'),
  );
  PlanSet.init({ id: id(), projectId: int(), version: int(1), file: text() }, options('sets'));
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
      total: int(),
      elapsed: real(0),
      busy: real(0),
      wall: real(0),
      created: text(),
      ended: maybeText(),
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
    },
    options('frames'),
  );
  Clip.init({ id: id(), batchId: int(), shot: text(), state: text(), fileName: text(), message: maybeText(), bytes: int(0) }, options('clips'));
  RecipeRow.init({ id: id(), kind: text(), name: text(), body: text(), isDefault: int(0) }, options('recipes'));
}
