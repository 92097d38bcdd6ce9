import { beforeEach, describe, expect, it, vi } from 'vitest';

const at = (commit: number) => new Response('{}', { headers: { 'x-commit': String(commit) } });

describe('whoever begins to listen', () => {
  // What was noted stays for as long as the page lives: each case has a page of its own.
  let page: typeof import('./commits.ts');
  beforeEach(async () => {
    vi.resetModules();
    page = await import('./commits.ts');
  });
  it('fetches nothing twice where all was read at the newest commit', () => {
    page.noteRead(at(7));
    page.noteRead(at(7));
    const tell = vi.fn();
    expect(page.allReadAt(7, tell)).toBe(true);
    page.noteRead(at(7));
    page.noteRead(at(8));
    expect(tell).not.toHaveBeenCalled();
  });
  it('fetches all anew where something was read before it', () => {
    page.noteRead(at(7));
    page.noteRead(at(6));
    expect(page.allReadAt(7, () => undefined)).toBe(false);
    // All of it was fetched then.
    page.noteRead(at(7));
    expect(page.allReadAt(7, () => undefined)).toBe(true);
  });
  it('fetches anew, once, where an answer on its way was read before it', () => {
    const tell = vi.fn();
    expect(page.allReadAt(7, tell)).toBe(true);
    page.noteRead(at(6));
    page.noteRead(at(5));
    expect(tell).toHaveBeenCalledTimes(1);
  });
  it('fetches anew where the server was started again meanwhile and counts from elsewhere', () => {
    page.noteRead(at(900));
    expect(page.allReadAt(7, () => undefined)).toBe(false);
  });
  it('knows its own commit', () => {
    page.noteWritten(at(9));
    expect(page.lastOwnCommit()).toBe(9);
  });
});
