import { EntitySchema } from 'typeorm';
import { check, pk, text } from './columns.ts';

export interface Setting {
  key: string;
  value: string;
}
/** What was asked with an act's number, so that the number used twice is told from a repeat. */
export interface ActRequest {
  id: string;
  /** SHA-256 of the route, its parameters and the body as they were sent, in hex. */
  digest: string;
}

export const SettingEntity = new EntitySchema<Setting>({
  name: 'setting',
  tableName: 'setting',
  columns: { key: pk, value: text },
});
export const ActRequestEntity = new EntitySchema<ActRequest>({
  name: 'act_request',
  tableName: 'act_request',
  columns: { id: pk, digest: text },
  checks: [check('act_request_digest', `length("digest") = 64`)],
});
