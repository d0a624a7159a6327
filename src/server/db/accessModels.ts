/** Tables of who may in, of what was done, and of single values. */
import { type CreationOptional, type InferAttributes, type InferCreationAttributes, Model, type Sequelize } from 'sequelize';
import { id, key, maybeText, text } from './columns.js';

/** A browser that signed in. */
export class Session extends Model<InferAttributes<Session>, InferCreationAttributes<Session>> {
  /** SHA-256 of what the cookie holds. */
  declare id: string;
  declare csrf: string;
  declare created: string;
  declare lastUsed: string;
  declare expires: string;
}

/** What a program signs in with. */
export class Token extends Model<InferAttributes<Token>, InferCreationAttributes<Token>> {
  declare id: CreationOptional<number>;
  declare name: string;
  declare role: string;
  /** SHA-256 of the token. */
  declare hash: string;
  declare created: string;
  declare lastUsed: CreationOptional<string | null>;
  declare revoked: CreationOptional<string | null>;
}

/** A line of the audit log. */
export class AuditEntry extends Model<InferAttributes<AuditEntry>, InferCreationAttributes<AuditEntry>> {
  declare id: CreationOptional<number>;
  declare time: string;
  declare who: string;
  declare what: string;
  declare detail: string;
}

/** One value a name: passphrase, identity of the database. */
export class Setting extends Model<InferAttributes<Setting>, InferCreationAttributes<Setting>> {
  declare key: string;
  declare value: string;
}

/** Lays the tables of access before the database. */
export function defineAccessModels(sequelize: Sequelize): void {
  const options = (tableName: string) => ({ sequelize, tableName, timestamps: false });
  Session.init({ id: key(), csrf: text(), created: text(), lastUsed: text(), expires: text() }, options('sessions'));
  Token.init({ id: id(), name: text(), role: text(), hash: text(), created: text(), lastUsed: maybeText(), revoked: maybeText() }, options('tokens'));
  AuditEntry.init({ id: id(), time: text(), who: text(), what: text(), detail: text() }, options('audit'));
  Setting.init({ key: key(), value: text() }, options('settings'));
}
