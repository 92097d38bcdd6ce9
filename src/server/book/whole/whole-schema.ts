import { z } from 'zod';
import { carePayloads } from '../../../contract/care.ts';
import { WHOLE_FORMAT, WHOLE_VERSION } from '../../../contract/whole.ts';
import { LOG_COLUMNS } from '../../database/whole/write-whole.ts';
import { WHOLE_TABLES } from '../../database/whole/whole-tables.ts';

type Schema = Readonly<Record<string, unknown>>;

const uuid = { type: 'string', format: 'uuid' };
const maybe = (schema: Schema) => ({ anyOf: [schema, { type: 'null' }] });
/** Without its own header: it stands within another. */
const bare = ({ $schema: _, ...schema }: Schema): Schema => schema;

/** What a file of everything may hold, as JSON Schema 2020-12: made from the contract of the log and from the tables. */
export function wholeSchema(): Schema {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: `${WHOLE_FORMAT}, form ${WHOLE_VERSION}`,
    type: 'object',
    required: ['format', 'version', 'madeAt', 'tables', 'log', 'photos'],
    properties: {
      format: { const: WHOLE_FORMAT },
      version: { const: WHOLE_VERSION },
      madeAt: { type: 'string', format: 'date-time' },
      tables: {
        type: 'object',
        additionalProperties: false,
        properties: Object.fromEntries(
          WHOLE_TABLES.map(({ name, columns }) => [name, { type: 'array', items: recordOf(columns) }]),
        ),
      },
      log: {
        description:
          'Lines in the order they were written. A line of a kind that is not named here was written by another hand.',
        type: 'array',
        items: logLine(),
      },
      photos: {
        type: 'array',
        items: {
          type: 'object',
          required: ['id'],
          properties: { id: uuid, jpeg: { type: 'string', contentEncoding: 'base64' }, file: { type: 'string' } },
        },
      },
    },
  };
}

function logLine(): Schema {
  const kinds = Object.entries(carePayloads).map(([kind, payload]) => ({
    if: { properties: { kind: { const: kind } } },
    then: { properties: { payload: bare(z.toJSONSchema(payload, { io: 'input' }) as Schema) } },
  }));
  return {
    type: 'object',
    required: [...LOG_COLUMNS, 'payload', 'about'],
    properties: {
      id: uuid,
      kind: { type: 'string' },
      at: { type: 'string', format: 'date-time' },
      localDate: { type: 'string', format: 'date' },
      potId: maybe(uuid),
      batchId: maybe(uuid),
      dueKey: maybe({ type: 'string' }),
      voidedBy: { description: 'The line that took this one back, or put it right.', ...maybe(uuid) },
      corrects: { description: 'The line this one puts right.', ...maybe(uuid) },
      payload: true,
      about: { description: 'Records it changed, such as pot:…', type: 'array', items: { type: 'string' } },
    },
    allOf: kinds,
  };
}

const TYPES = { text: 'string', integer: 'integer', real: 'number' } as const;

function recordOf(columns: (typeof WHOLE_TABLES)[number]['columns']): Schema {
  return {
    type: 'object',
    additionalProperties: false,
    required: columns.map(({ name }) => name),
    properties: Object.fromEntries(
      columns.map(({ name, type, nullable, json }) => [
        name,
        json ? true : { type: nullable ? [TYPES[type], 'null'] : TYPES[type] },
      ]),
    ),
  };
}
