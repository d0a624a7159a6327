/** Kinds of columns. Sequelize writes into the definitions it is given, so each column needs an object of its own. */
import { DataTypes } from 'sequelize';

/** The key of a table. */
export const id = () => ({ type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true });
/** A whole number. */
export const int = (defaultValue?: number) => ({ type: DataTypes.INTEGER, allowNull: false, defaultValue });
/** A whole number or null. */
export const maybeInt = () => ({ type: DataTypes.INTEGER, allowNull: true });
/** Words. */
export const text = (defaultValue?: string) => ({ type: DataTypes.TEXT, allowNull: false, defaultValue });
/** Words or null. */
export const maybeText = () => ({ type: DataTypes.TEXT, allowNull: true });
/** A number or null. */
export const real = (defaultValue?: number) => ({ type: DataTypes.REAL, allowNull: true, defaultValue });
/** A text that tells rows apart. */
export const key = () => ({ type: DataTypes.TEXT, primaryKey: true });
