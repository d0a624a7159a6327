/** Tables of what people say of renders. */
import { type CreationOptional, type InferAttributes, type InferCreationAttributes, Model, type Sequelize } from 'sequelize';
import { id, int, maybeText, text } from './columns.js';

/** A line of the decision log: it is never changed, and stays when its batch goes. */
export class DecisionRow extends Model<InferAttributes<DecisionRow>, InferCreationAttributes<DecisionRow>> {
  declare id: CreationOptional<number>;
  declare setId: number;
  /** Number of the batch, and letter of its revision. */
  declare batch: number;
  declare revision: string;
  declare frameId: number;
  /** Run of frames, its name, and the frame's number and name. */
  declare run: string;
  declare shot: string;
  declare number: number;
  declare frame: string;
  /** Of the frame that was judged. */
  declare identity: string;
  /** `accepted` or `redo`; null where it was taken back. */
  declare decision: CreationOptional<string | null>;
  declare reason: CreationOptional<string | null>;
  declare author: CreationOptional<string | null>;
  /** ISO 8601. */
  declare time: string;
}

export function defineReviewModels(sequelize: Sequelize): void {
  DecisionRow.init(
    {
      id: id(),
      setId: int(),
      batch: int(),
      revision: text(),
      frameId: int(),
      run: text(),
      shot: text(),
      number: int(),
      frame: text(),
      identity: text(),
      decision: maybeText(),
      reason: maybeText(),
      author: maybeText(),
      time: text(),
    },
    { sequelize, tableName: 'decisions', timestamps: false },
  );
}
