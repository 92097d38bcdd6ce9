import { expect, inject, it } from 'vitest';
import { FAULTS, isSound, lineOf, type Sizes } from './faults.ts';

/* The bench of faults in its short form; `npm run faults` is the long one. */

const SHORT: Sizes = {
  kills: 6,
  points: 1,
  disks: 8,
  writes: 8,
  restores: 6,
  retries: 200,
  tries: 300,
  damaged: 4,
  requests: 1200,
  seconds: 6,
};

for (const [word, run] of Object.entries(FAULTS))
  it(`nothing acknowledged is lost, doubled or half kept, and every answer names its fault: ${word}`, async () => {
    const fault = await run(SHORT, inject('demoFolder'));
    // Where no small disk may be mounted, nor files limited, the unit tests of full disks and failing writes stand for these two.
    if (!fault) return expect(['disks', 'writes']).toContain(word);
    console.log(lineOf(fault));
    expect({ ...fault, sound: isSound(fault) }).toMatchObject({
      lost: 0,
      doubled: 0,
      half: 0,
      unnamed: 0,
      sound: true,
    });
    expect(fault.acknowledged).toBeGreaterThan(0);
    expect(fault.cases).toBeGreaterThan(0);
  }, 240_000);
