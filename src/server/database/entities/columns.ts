import type { EntitySchemaColumnOptions } from 'typeorm';

/* Shorthands the tables are written with. CHECKs, foreign keys and unique indexes mirror the contract's bounds. */

export const text: EntitySchemaColumnOptions = { type: 'text' };
export const textNull: EntitySchemaColumnOptions = { type: 'text', nullable: true };
export const real: EntitySchemaColumnOptions = { type: 'real' };
export const realNull: EntitySchemaColumnOptions = { type: 'real', nullable: true };
export const int: EntitySchemaColumnOptions = { type: 'integer' };
export const intNull: EntitySchemaColumnOptions = { type: 'integer', nullable: true };
export const pk: EntitySchemaColumnOptions = { type: 'text', primary: true };
export const check = (name: string, expression: string) => ({ name: `ck_${name}`, expression });
/** `"column" IN ('a', 'b')` */
export const oneOf = (column: string, values: readonly string[]) =>
  `"${column}" IN (${values.map((v) => `'${v}'`).join(', ')})`;
export const fk = (name: string, target: string, column: string) => ({
  name: `fk_${name}`,
  target,
  columnNames: [column],
  referencedColumnNames: ['id'],
  onDelete: 'RESTRICT' as const,
});
