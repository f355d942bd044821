/** Columns that must have a value, as several tables need them. */

import { DataTypes } from 'sequelize'

export const text = () => ({ type: DataTypes.TEXT, allowNull: false })
export const integer = () => ({ type: DataTypes.INTEGER, allowNull: false })
export const json = () => ({ type: DataTypes.JSONB, allowNull: false })
