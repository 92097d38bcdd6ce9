/** Old records of many pots brought in out of a spreadsheet: how long it takes to read them into a copy, and how much memory. `npx tsx bench/bring-table.ts [lines]` */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makeDemo } from '../src/demo/make-demo.ts';
import { bringSheet } from '../src/server/database/sheet/bring-sheet.ts';
import { openDatabase } from '../src/server/database/open.ts';

const TODAY = '2026-11-25';
const WANTED = Number(process.argv[2] ?? 100_000);
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
const file = join(folder, 'x.sqlite');
const database = await openDatabase(file);
await database.write.run((manager) => makeDemo(manager, { today: TODAY, weeks: 4, copies: 12 }));
const rows = <T>(sql: string) => database.read.query<T[]>(sql);
const [pots, [pen], [water], [feed]] = [
  await rows<{ code: string }>('SELECT code FROM pot WHERE retiredOn IS NULL'),
  await rows<{ id: string }>(`SELECT id FROM meter WHERE quantity = 'ppm'`),
  await rows<{ id: string }>(`SELECT id FROM water WHERE kind = 'still'`),
  await rows<{ id: string }>(`SELECT id FROM product WHERE kind = 'feed'`),
];
const lines = ['Date,Pot,ppm out,pH out,ppm in,pH in,mL'];
for (let n = 0; lines.length <= WANTED; n++) {
  const day = new Date(Date.parse('2026-09-01') - n * 7 * 86_400_000).toISOString().slice(0, 10);
  for (const { code } of pots)
    lines.push(`${day},${code},${140 + (n % 60)},${(6 + (n % 9) / 10).toFixed(1)},105,5.8,90`);
}
const upload = join(folder, 'table.csv');
writeFileSync(upload, lines.join('\r\n'));
const from = performance.now();
const { report } = await bringSheet({
  ...{ collection: file, upload, candidate: join(folder, 'copy.sqlite'), progress: new SharedArrayBuffer(8) },
  ...{ name: 'table.csv', actId: '00000000-0000-4000-8000-000000000001' },
  when: { at: `${TODAY}T09:00:00.000Z`, localDate: TODAY, zone: 'Europe/London', units: 'metric' },
  plan: {
    ...{ what: 'waterings', separator: 'comma', head: true, dayForm: 'iso', mark: 'point', volume: 'mL' },
    columns: ['day', 'pot', 'outStrength', 'outPh', 'inStrength', 'inPh', 'poured'],
    strength: { as: 'ppm', scale: 0.5 },
    ...{
      potId: null,
      pots: {},
      ppmMeterId: pen!.id,
      phMeterId: null,
      waterId: water!.id,
      waterEcUsCm: null,
      aboutEcUsCm: null,
      aboutPh: null,
    },
    ...{ productId: feed!.id, flushWaterId: null, usualPour: true, lastOfDay: false, mended: {} },
  },
});
const seconds = (performance.now() - from) / 1000;
console.log(
  `${report!.waterings} lines of ${report!.pots} pots in ${seconds.toFixed(1)} s, ${Math.round(process.memoryUsage().rss / 1e6)} MB; wrong ${report!.wrong}`,
);
await database.close();
rmSync(folder, { recursive: true, force: true });
