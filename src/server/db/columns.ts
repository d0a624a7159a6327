/** Kinds of columns. Sequelize writes into the definitions it is given, so each column needs an object of its own. */
import { DataTypes } from 'sequelize';

export const id = () => ({ type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true });
export const int = (defaultValue?: number) => ({ type: DataTypes.INTEGER, allowNull: false, defaultValue });
export const maybeInt = () => ({ type: DataTypes.INTEGER, allowNull: true });
export const text = (defaultValue?: string) => ({ type: DataTypes.TEXT, allowNull: false, defaultValue });
export const maybeText = () => ({ type: DataTypes.TEXT, allowNull: true });
export const real = (defaultValue?: number) => ({ type: DataTypes.REAL, allowNull: true, defaultValue });
/** A text that tells rows apart. */
export const key = () => ({ type: DataTypes.TEXT, primaryKey: true });
