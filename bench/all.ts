/** Every benchmark, one after the other: npm run bench. */
await import('./coach.ts');
await import('./several.ts');
await import('./ph.ts');
await import('./aims.ts');
await import('./solution.ts');
await import('./clay.ts');
await import('./pots.ts');
await import('./judgement.ts');
await import('./label-edit.ts');
await import('./first-paint.ts');
await import('./api.ts');
await import('./at-hand.ts');
await import('./log.ts');
await import('./whole.ts');
export {};
