/** Tables of what people say of renders. */
import { type CreationOptional, DataTypes, type InferAttributes, type InferCreationAttributes, Model, type Sequelize } from 'sequelize';
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
  /** `accepted` or `redo`; null where it was withdrawn. */
  declare decision: CreationOptional<string | null>;
  declare reason: CreationOptional<string | null>;
  declare author: CreationOptional<string | null>;
  /** ISO 8601. */
  declare time: string;
}

/** A note pinned to a frame. */
export class NoteRow extends Model<InferAttributes<NoteRow>, InferCreationAttributes<NoteRow>> {
  declare id: CreationOptional<number>;
  declare setId: number;
  declare batchId: number;
  declare frameId: number;
  declare run: string;
  /** View of a still; '' of a moving shot. */
  declare view: string;
  /** First and last frame number that it is about. */
  declare number: number;
  declare lastNumber: number;
  /** NoteShape as JSON. */
  declare shape: string;
  declare text: string;
  declare author: string;
  declare state: string;
  declare part: CreationOptional<string | null>;
  declare time: string;
  /** When it was deleted; null of one that is there. */
  declare deleted: CreationOptional<string | null>;
  /** Review page that it was written on; null of one's own. */
  declare via: CreationOptional<string | null>;
  /** Its key in the file that it came in with. */
  declare key: CreationOptional<string | null>;
}

/** An answer to a note. */
export class NoteAnswer extends Model<InferAttributes<NoteAnswer>, InferCreationAttributes<NoteAnswer>> {
  declare id: CreationOptional<number>;
  declare noteId: number;
  declare text: string;
  declare author: string;
  declare time: string;
  declare via: CreationOptional<string | null>;
  declare key: CreationOptional<string | null>;
}

/** A page on which others look at renders of a set, by an address that cannot be guessed. */
export class ReviewPage extends Model<InferAttributes<ReviewPage>, InferCreationAttributes<ReviewPage>> {
  declare id: CreationOptional<number>;
  declare setId: number;
  declare name: string;
  /** Last part of its address. It is kept as it is, so that it can be copied again: renders and notes lie beside it. */
  declare secret: string;
  /** ShownRender[] as JSON. */
  declare shown: string;
  /** Last day, YYYY-MM-DD by UTC. */
  declare ends: string;
  /** As hashPassphrase; null where none is asked. */
  declare passphrase: CreationOptional<string | null>;
  declare created: string;
  declare revoked: CreationOptional<string | null>;
  declare opened: CreationOptional<number>;
  declare lastOpened: CreationOptional<string | null>;
}

/** A package that was put together of a set's renders. */
export class PackageRow extends Model<InferAttributes<PackageRow>, InferCreationAttributes<PackageRow>> {
  declare id: CreationOptional<number>;
  declare setId: number;
  declare name: string;
  declare state: string;
  /** NewPackage as JSON. */
  declare content: string;
  declare message: CreationOptional<string | null>;
  declare created: string;
  declare files: CreationOptional<number>;
  declare bytes: CreationOptional<number>;
  declare audited: CreationOptional<string | null>;
  /** Faults with their waivers, as JSON. */
  declare faults: CreationOptional<string>;
  declare deleted: CreationOptional<string | null>;
}

/** A package on its way somewhere, or there. */
export class DeliveryRow extends Model<InferAttributes<DeliveryRow>, InferCreationAttributes<DeliveryRow>> {
  declare id: CreationOptional<number>;
  declare packageId: number;
  declare kind: string;
  declare target: string;
  declare state: string;
  /** Bytes of all its files. */
  declare total: number;
  declare message: CreationOptional<string | null>;
  declare created: string;
}

/** Lays the tables of review before the database. */
export function defineReviewModels(sequelize: Sequelize): void {
  const options = (tableName: string) => ({ sequelize, tableName, timestamps: false });
  NoteRow.init(
    {
      id: id(),
      setId: int(),
      batchId: int(),
      frameId: int(),
      run: text(),
      view: text(),
      number: int(),
      lastNumber: int(),
      shape: text(),
      text: text(),
      author: text(),
      state: text(),
      part: maybeText(),
      time: text(),
      deleted: maybeText(),
      via: maybeText(),
      key: maybeText(),
    },
    options('notes'),
  );
  NoteAnswer.init(
    { id: id(), noteId: int(), text: text(), author: text(), time: text(), via: maybeText(), key: maybeText() },
    options('noteAnswers'),
  );
  ReviewPage.init(
    {
      id: id(),
      setId: int(),
      name: text(),
      secret: text(),
      shown: text(),
      ends: text(),
      passphrase: maybeText(),
      created: text(),
      revoked: maybeText(),
      opened: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      lastOpened: maybeText(),
    },
    options('reviewPages'),
  );
  const count = { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 };
  PackageRow.init(
    {
      id: id(),
      setId: int(),
      name: text(),
      state: text(),
      content: text(),
      message: maybeText(),
      created: text(),
      files: { ...count },
      bytes: { ...count },
      audited: maybeText(),
      faults: { type: DataTypes.TEXT, allowNull: false, defaultValue: '[]' },
      deleted: maybeText(),
    },
    options('packages'),
  );
  DeliveryRow.init(
    { id: id(), packageId: int(), kind: text(), target: text(), state: text(), total: int(), message: maybeText(), created: text() },
    options('deliveries'),
  );
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
    options('decisions'),
  );
}
