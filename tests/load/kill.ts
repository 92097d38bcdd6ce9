import { Sqlite } from '../../src/server/database/sqlite.ts';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startServer } from '../e2e/server.ts';

/*
 * Pulls the plug: kill −9 in the middle of bursts of writes, over and over on one collection. Every act that was acknowledged must be
 * there afterwards, once, and the file must be whole. `npx tsx tests/load/kill.ts 50` after a build; CI runs a short form.
 */

export type KillReport = {
  bursts: number;
  acknowledged: number;
  lost: string[];
  twice: string[];
  integrity: string;
  killedMidWrite: number;
};

/** No step takes a tenth of this, however busy the machine. */
const STUCK_MS = 30_000;

/** @param bursts how often the plug is pulled */
export async function killBursts(bursts: number, { perBurst = 40 } = {}): Promise<KillReport> {
  const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-kill-'));
  const acknowledged: string[] = [];
  let killedMidWrite = 0;
  try {
    for (let burst = 0; burst < bursts; burst++) {
      const server = await within('the server to start', startServer({ folder, demo: false }));
      let answered = 0;
      // The plug goes after so many answers, another number each time, so that it falls into every part of a burst.
      const after = (burst * 7) % perBurst;
      let enough: () => void;
      const answeredEnough = new Promise<void>((resolve) => (enough = resolve));
      if (after === 0) enough!();
      const writes = Array.from({ length: perBurst }, async (_, i) => {
        const id = idFor(burst * perBurst + i);
        const body = {
          kind: 'plan',
          planId: idFor(1_000_000 + burst * perBurst + i),
          subjectKind: 'collection',
          subjectId: null,
          words: `burst ${burst}, act ${i}`,
          onDate: '2026-12-01',
          origin: 'grower',
        };
        try {
          const response = await fetch(`${server.url}/api/shell/plans/acts/${id}`, {
            method: 'PUT',
            headers: { 'content-type': 'application/json' },
            body: JSON.stringify(body),
            // A request under way when its server dies is sometimes never told: it goes by as unanswered.
            signal: AbortSignal.timeout(UNANSWERED_MS),
          });
          if (!response.ok) throw new Error(`answered ${response.status}`);
          acknowledged.push(id);
          if (++answered >= after) enough();
        } catch {
          // Nobody answered: the act may be there or not, but never half.
        }
      });
      await within(`answer ${after} of burst ${burst}`, Promise.race([answeredEnough, Promise.all(writes)]));
      await within('the killed server to be gone', server.stop('SIGKILL'));
      await within('every request to a killed server to fail', Promise.all(writes));
      if (answered < perBurst) killedMidWrite++;
    }
    // Once more in peace: recovery happens on opening.
    const last = await within('the server to start after the last kill', startServer({ folder, demo: false }));
    await within('the server to stop in peace', last.stop());
    const file = new Sqlite(join(folder, 'collection.sqlite'), { readonly: true });
    const ids = (file.prepare('SELECT id FROM care_event').all() as { id: string }[]).map((row) => row.id);
    const halves = file
      .prepare(
        `SELECT e.id FROM care_event e LEFT JOIN planned_act p ON p.id = json_extract(e.payload, '$.changes[0].id') WHERE p.id IS NULL`,
      )
      .all() as { id: string }[];
    const [check] = file.prepare('PRAGMA integrity_check').all() as { integrity_check: string }[];
    file.close();
    const there = new Set(ids);
    return {
      bursts,
      acknowledged: acknowledged.length,
      lost: acknowledged.filter((id) => !there.has(id)),
      twice: [...ids.filter((id, i) => ids.indexOf(id) !== i), ...halves.map((row) => row.id)],
      integrity: check?.integrity_check ?? 'not checked',
      killedMidWrite,
    };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Longer than any answer takes, shorter than a wait that is stuck. */
const UNANSWERED_MS = 10_000;

/** A wait with an end and a name, so that a run that hangs says where. */
async function within<T>(what: string, wait: Promise<T>): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error(`Waited ${STUCK_MS / 1000} s for ${what}`)), STUCK_MS);
  });
  try {
    return await Promise.race([wait, late]);
  } finally {
    clearTimeout(timer);
  }
}

function idFor(n: number): string {
  return `00000000-0000-4000-8000-${n.toString(16).padStart(12, '0')}`;
}

if (process.argv[1]?.endsWith('kill.ts')) {
  const report = await killBursts(Number(process.argv[2] ?? 50));
  console.log(
    `${report.bursts} bursts, the plug pulled mid-write in ${report.killedMidWrite}: ${report.acknowledged} acts acknowledged, ${report.lost.length} lost, ${report.twice.length} twice or half; integrity ${report.integrity}`,
  );
  process.exitCode = report.lost.length + report.twice.length > 0 || report.integrity !== 'ok' ? 1 : 0;
}
