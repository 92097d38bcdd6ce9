import { describe, expect, it, vi } from 'vitest';
import { OfflineError, ProblemError, type request } from './api.ts';
import { Outbox, type Act } from './outbox.ts';

function memory(): Pick<Storage, 'getItem' | 'setItem'> {
  const kept = new Map<string, string>();
  return { getItem: (k) => kept.get(k) ?? null, setItem: (k, v) => void kept.set(k, v) };
}
const act = (id: string): Act => ({ id, url: `/api/round/acts/${id}`, body: { n: id }, words: `act ${id}`, subject: `pot-${id}` });
const refusal = () => new ProblemError({ type: 'x', title: 'x', status: 409, code: 'already-logged', detail: 'already logged 09:31' });
/** A server that can go away, and remembers what it was sent. */
function server() {
  const state = { up: true, got: [] as string[], refuse: new Set<string>() };
  const send = vi.fn(async (_method: string, url: string) => {
    if (!state.up) throw new OfflineError();
    const id = url.split('/').pop()!;
    if (state.refuse.has(id)) throw refusal();
    state.got.push(id);
    return { ok: id };
  }) as unknown as typeof request;
  return { state, send };
}

describe('the outbox', () => {
  it('sends at once while the server answers', async () => {
    const { state, send } = server();
    const outbox = new Outbox(memory(), 'k', send);
    expect(await outbox.put(act('1'))).toEqual({ kind: 'done', value: { ok: '1' } });
    expect(state.got).toEqual(['1']);
  });
  it('keeps acts when nobody answers, through a reload, and sends them in order, once', async () => {
    const { state, send } = server();
    const storage = memory();
    state.up = false;
    const before = new Outbox(storage, 'k', send);
    expect(await before.put(act('1'))).toEqual({ kind: 'waiting' });
    await before.put(act('2'));
    const after = new Outbox(storage, 'k', send);
    expect(after.state.waiting.map((a) => a.id)).toEqual(['1', '2']);
    expect(await after.flush()).toBe(false);
    state.up = true;
    await Promise.all([after.flush(), after.flush()]);
    expect(state.got).toEqual(['1', '2']);
    expect(after.state.waiting).toEqual([]);
  });
  it('lets nothing overtake what waits', async () => {
    const { state, send } = server();
    const outbox = new Outbox(memory(), 'k', send);
    state.up = false;
    await outbox.put(act('1'));
    state.up = true;
    expect(await outbox.put(act('2'))).toEqual({ kind: 'waiting' });
    await outbox.flush();
    expect(state.got).toEqual(['1', '2']);
  });
  it('shows what was refused later instead of dropping it, and goes on', async () => {
    const { state, send } = server();
    const outbox = new Outbox(memory(), 'k', send);
    state.up = false;
    await outbox.put(act('1'));
    await outbox.put(act('2'));
    state.up = true;
    state.refuse.add('1');
    await outbox.flush();
    expect(state.got).toEqual(['2']);
    expect(outbox.state.refused).toMatchObject([{ act: { id: '1' }, reason: 'already logged 09:31' }]);
    outbox.dismiss('1');
    expect(outbox.state.refused).toEqual([]);
  });
  it('takes back what has not left yet, and tells listeners', async () => {
    const { state, send } = server();
    const outbox = new Outbox(memory(), 'k', send);
    const heard = vi.fn();
    outbox.subscribe(heard);
    state.up = false;
    await outbox.put(act('1'));
    expect(outbox.withdraw('1')).toBe(true);
    expect(outbox.withdraw('1')).toBe(false);
    expect(heard).toHaveBeenCalledTimes(2);
  });
  it('a refusal while the grower is there goes to the field, not the box', async () => {
    const { state, send } = server();
    state.refuse.add('1');
    const outbox = new Outbox(memory(), 'k', send);
    await expect(outbox.put(act('1'))).rejects.toBeInstanceOf(ProblemError);
    expect(outbox.state.waiting).toEqual([]);
  });
});
