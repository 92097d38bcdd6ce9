import { serverKit } from '../tests/server-kit.ts';
const kit = await serverKit(52);
for (let i = 0; i < 3; i++) {
  const t = performance.now();
  const r = await kit.call<any>('GET', '/api/book/turns');
  console.log(r.status, (performance.now() - t).toFixed(0), 'ms');
  if (i === 2) {
    for (const t of r.body.turns) console.log(t.on, t.kind, '|', t.title, '|', t.what.join(' ; '));
    for (const m of r.body.measures) console.log(m.key, m.weeks.slice(-6).map((w: any) => `${w.value?.toFixed(2)}(${w.n}${w.tainted ? '!' : ''})`).join(' '), m.weeks.length);
    for (const t of r.body.turns) {
      const t0 = performance.now();
      const c = await kit.call<any>('GET', `/api/book/turns/compared?id=${encodeURIComponent(t.id)}`);
      console.log(t.title, c.status, (performance.now() - t0).toFixed(0), c.body.detail ?? '');
      for (const f of c.body.found ?? []) console.log('   ', f.key, f.before.toFixed(2), f.after.toFixed(2), f.pots, f.against, f.difference && [f.difference.low, f.difference.mean, f.difference.high].map((x: number) => x.toFixed(2)).join(' '));
    }
  }
}
await kit.close();
