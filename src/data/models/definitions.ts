import { DataTypes, type ModelAttributeColumnOptions } from "sequelize";

const { BOOLEAN, CHAR, DATEONLY, DATE, STRING, JSON: JSON_TYPE, INTEGER, BIGINT, DECIMAL } = DataTypes;

/** Column shapes used over and over; the real constraints live in the migrations. */
export const key: ModelAttributeColumnOptions = { type: CHAR(36), primaryKey: true };
export const ref: ModelAttributeColumnOptions = { type: CHAR(36), allowNull: false };
export const optionalRef: ModelAttributeColumnOptions = { type: CHAR(36), allowNull: true };
export const text: ModelAttributeColumnOptions = { type: STRING, allowNull: false };
export const optionalText: ModelAttributeColumnOptions = { type: STRING, allowNull: true };
export const whole: ModelAttributeColumnOptions = { type: INTEGER, allowNull: false };
export const optionalWhole: ModelAttributeColumnOptions = { type: INTEGER, allowNull: true };
export const bigWhole: ModelAttributeColumnOptions = { type: BIGINT, allowNull: false };
export const decimal: ModelAttributeColumnOptions = { type: DECIMAL, allowNull: false };
export const optionalDecimal: ModelAttributeColumnOptions = { type: DECIMAL, allowNull: true };
export const flag: ModelAttributeColumnOptions = { type: BOOLEAN, allowNull: false };
export const json: ModelAttributeColumnOptions = { type: JSON_TYPE, allowNull: false };
export const optionalJson: ModelAttributeColumnOptions = { type: JSON_TYPE, allowNull: true };
export const day: ModelAttributeColumnOptions = { type: DATEONLY, allowNull: false };
export const optionalDay: ModelAttributeColumnOptions = { type: DATEONLY, allowNull: true };
export const instant: ModelAttributeColumnOptions = { type: DATE(3), allowNull: false };
export const optionalInstant: ModelAttributeColumnOptions = { type: DATE(3), allowNull: true };

/** Gives every attribute an object of its own: Sequelize writes the column's name into it. */
export function columns<T extends Record<string, ModelAttributeColumnOptions>>(shape: T): T {
  return Object.fromEntries(Object.entries(shape).map(([name, column]) => [name, { ...column }])) as T;
}
