import { EntitySchema } from 'typeorm';
import { pk, text } from './columns.ts';

export interface Setting {
  key: string;
  value: string;
}
/** A device that was let in with the passphrase. Only a hash of its token is kept. */
export interface Session {
  tokenHash: string;
  device: string;
  startedAt: string;
  lastSeenAt: string;
}

export const SettingEntity = new EntitySchema<Setting>({ name: 'setting', tableName: 'setting', columns: { key: pk, value: text } });
export const SessionEntity = new EntitySchema<Session>({
  name: 'session',
  tableName: 'session',
  columns: { tokenHash: pk, device: text, startedAt: text, lastSeenAt: text },
});
