import { describe, expect, it } from 'vitest';
import { readLogger } from './logger-csv.ts';

describe('a logger’s file', () => {
  it('is read by its heads, with commas or semicolons, whatever else stands in it', () => {
    const comma = readLogger(
      'Timestamp,Temperature (°C),Relative humidity (%),Battery\n2026-03-01 10:00,14.5,60,90\n2026-03-02T10:00:00,15,62,90',
    );
    expect(comma).toMatchObject({ ok: true, skipped: 0 });
    const semicolon = readLogger('date;temp;humidity\n01.03.2026 10:00;14,5;60\n');
    expect(semicolon).toEqual({
      ok: true,
      lines: [{ on: '2026-03-01', temperatureC: 14.5, humidityPct: 60 }],
      skipped: 0,
    });
  });
  it('turns °F into °C by the head', () => {
    const read = readLogger('date,Temperature °F,RH\n2026-03-01,68,55');
    expect(read.ok && read.lines[0]!.temperatureC).toBeCloseTo(20, 9);
  });
  it('counts what it cannot read, and guesses nothing', () => {
    expect(
      readLogger('date,temp,hum\n2026-03-01,14,60\nyesterday,14,60\n2026-03-02,,60\n2026-03-03,14,160'),
    ).toMatchObject({ ok: true, skipped: 3 });
  });
  it('says which column is missing, and that nothing could be read', () => {
    const noHumidity = readLogger('date,temp\n2026-03-01,14');
    expect(!noHumidity.ok && noHumidity.message).toContain('a humidity');
    const nothing = readLogger('date,temp,hum\nx,y,z');
    expect(!nothing.ok && nothing.message).toContain('Not one line');
    expect(readLogger('').ok).toBe(false);
  });
});
