import { afterAll, beforeAll, expect, it } from 'vitest';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';

/* Which commit an answer was read at, and which the line of changes begins with: by these a page knows whether it must fetch anew. */

let kit: Kit;
let url: string;
beforeAll(async () => {
  kit = await serverKit(1);
  url = await kit.app.listen({ host: '127.0.0.1', port: 0 });
});
afterAll(() => kit.close());

const readAt = async (path: string) => (await fetch(`${url}${path}`)).headers.get('x-commit');
const write = async () => {
  const look = { cues: {}, note: testId(), growths: null, leafMm: null };
  const [pot] = await kit.rows<{ id: string }>('SELECT id FROM pot LIMIT 1');
  const answer = await fetch(`${url}/api/round/acts/${testId()}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ kind: 'looked', potId: pot!.id, look }),
  });
  expect(answer.status).toBe(200);
  return answer.headers.get('x-commit');
};
/** What the line says first. */
async function firstWord(): Promise<string> {
  const gone = new AbortController();
  const { body } = await fetch(`${url}/api/shell/changes`, { signal: gone.signal });
  const { value } = await body!.getReader().read();
  gone.abort();
  return /^data: (\d+)$/m.exec(new TextDecoder().decode(value))![1]!;
}

it('a page that has read everything hears nothing new as it begins to listen; one that read before an act does', async () => {
  const before = await readAt('/api/round');
  expect(await firstWord()).toBe(before);
  const wrote = await write();
  expect(Number(wrote)).toBe(Number(before) + 1);
  expect(await firstWord()).toBe(wrote);
  expect(await readAt('/api/shell')).toBe(wrote);
});
it('a page that is not there says nothing of what is written', async () => {
  expect(await readAt('/api/nothing-here')).toBeNull();
});
