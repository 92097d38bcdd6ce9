import { describe, expect, it, vi } from 'vitest';
import { OfflineError, ProblemError, type request } from './api.ts';
import { Outbox, type Act } from './outbox.ts';

function memory(): Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'> {
  const kept = new Map<string, string>();
  return {
    getItem: (k) => kept.get(k) ?? null,
    setItem: (k, v) => void kept.set(k, v),
    removeItem: (k) => void kept.delete(k),
    key: (i) => [...kept.keys()][i] ?? null,
    get length() {
      return kept.size;
    },
  };
}
const act = (id: string): Act => ({
  id,
  url: `/api/round/acts/${id}`,
  body: { n: id },
  words: `act ${id}`,
  subject: `pot-${id}`,
});
const refusal = () =>
  new ProblemError({ type: 'x', title: 'x', status: 409, code: 'already-logged', detail: 'already logged 09:31' });
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
  it('is written down before it is sent: an act whose page died on the way is sent by the next one', async () => {
    const storage = memory();
    let now = 1_000_000;
    const never = vi.fn(() => new Promise(() => undefined)) as unknown as typeof request;
    void new Outbox(storage, 'k', never, () => now).put(act('1'));
    const { state, send } = server();
    const after = new Outbox(storage, 'k', send, () => now);
    // It may still be under way in the other tab: left alone at first.
    expect(after.state.waiting).toEqual([]);
    now += 11_000;
    after.refresh();
    await after.flush();
    expect(state.got).toEqual(['1']);
    expect(storage.length).toBe(0);
  });
  it('two tabs keep each other’s acts, and each sees them', async () => {
    const { state, send } = server();
    const storage = memory();
    state.up = false;
    const [one, two] = [new Outbox(storage, 'k', send), new Outbox(storage, 'k', send)];
    await one.put(act('1'));
    await two.put(act('2'));
    one.refresh();
    expect(one.state.waiting.map((a) => a.id)).toEqual(['1', '2']);
    state.up = true;
    await Promise.all([one.flush(), two.flush()]);
    one.refresh();
    two.refresh();
    expect(new Set(state.got)).toEqual(new Set(['1', '2']));
    expect([one.state.waiting, two.state.waiting, storage.length]).toEqual([[], [], 0]);
  });
  it('says when the browser cannot keep acts, and sends them all the same', async () => {
    const { state, send } = server();
    const storage = {
      ...memory(),
      setItem: () => {
        throw new Error('QuotaExceededError');
      },
    };
    state.up = false;
    const outbox = new Outbox(storage, 'k', send);
    await outbox.put(act('1'));
    outbox.refresh();
    expect(outbox.state).toMatchObject({ fragile: true, waiting: [{ id: '1' }] });
    state.up = true;
    await outbox.flush();
    expect(state.got).toEqual(['1']);
    expect(outbox.state.fragile).toBe(false);
  });
  it('is not upset by a broken entry', () => {
    const storage = memory();
    storage.setItem('k:x', '{"half');
    expect(new Outbox(storage, 'k', server().send).state.waiting).toEqual([]);
  });
  it('takes on what the first version kept', async () => {
    const { state, send } = server();
    const storage = memory();
    storage.setItem('frugal-sip-outbox', JSON.stringify({ waiting: [act('1'), act('2')], refused: [] }));
    const outbox = new Outbox(storage, 'k', send);
    await outbox.flush();
    expect(state.got).toEqual(['1', '2']);
    expect(storage.length).toBe(0);
  });
  it('says why acts wait where the server says so, until it takes them', async () => {
    let why: string | undefined = 'The disk is full, so nothing was logged.';
    const outbox = new Outbox(memory(), 'k', (async () => {
      if (why !== undefined) throw new OfflineError(why);
      return {};
    }) as typeof request);
    await outbox.put(act('1'));
    expect(outbox.state).toMatchObject({ why: 'The disk is full, so nothing was logged.', waiting: [{ id: '1' }] });
    why = 'Another program holds the collection.';
    await outbox.flush();
    expect(outbox.state.why).toBe('Another program holds the collection.');
    why = undefined;
    await outbox.flush();
    expect(outbox.state).toMatchObject({ why: null, waiting: [] });
  });
  it('a step refused because another device was quicker is kept as well once the grower sends it again', async () => {
    const sent: string[] = [];
    const outbox = new Outbox(memory(), 'k', (async (_method: string, url: string) => {
      sent.push(url);
      if (sent.length === 1) throw new OfflineError();
      if (url.includes('after=')) throw refusal();
      return {};
    }) as typeof request);
    await outbox.put({ ...act('1'), url: '/api/bench/batches/b/steps/1?after=start' });
    await outbox.flush();
    expect(outbox.state.refused).toHaveLength(1);
    outbox.tryAgain('1');
    await outbox.flush();
    expect(sent.at(-1)).toBe('/api/bench/batches/b/steps/1');
    expect(outbox.state).toMatchObject({ waiting: [], refused: [] });
  });
});
