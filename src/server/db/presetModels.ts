/** Tables of what is used in several projects. */
import { type CreationOptional, type InferAttributes, type InferCreationAttributes, Model, type Sequelize } from 'sequelize';
import { id, int, text } from './columns.js';

/** What is kept under a name to be used again. */
export class PresetRow extends Model<InferAttributes<PresetRow>, InferCreationAttributes<PresetRow>> {
  declare id: CreationOptional<number>;
  declare kind: string;
  declare name: string;
  /** What it holds, as JSON. */
  declare body: string;
  /** 1 where a new project begins with it. */
  declare isDefault: number;
}

/** Lays the tables of presets before the database. */
export function definePresetModels(sequelize: Sequelize): void {
  PresetRow.init({ id: id(), kind: text(), name: text(), body: text(), isDefault: int(0) }, { sequelize, tableName: 'presets', timestamps: false });
}
