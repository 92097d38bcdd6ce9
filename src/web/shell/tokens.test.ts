import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';

const sheets = readdirSync('src/web', { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('.scss') && !file.endsWith('_tokens.scss'))
  .map((file) => `src/web/${file}`);
const linesOf = (file: string) =>
  readFileSync(file, 'utf8')
    .split('\n')
    .map((line, i) => ({ at: `${file}:${i + 1}`, line }));
const lines = sheets.flatMap(linesOf);

describe('styles take what they are drawn with from the tokens', () => {
  it('reads every sheet', () => expect(sheets.length).toBeGreaterThan(8));

  it('names no colour by value', () =>
    expect(lines.filter(({ line }) => /#[0-9a-f]{3,8}\b/i.test(line)).map(({ at }) => at)).toEqual([]));

  it('keeps distances to the steps', () =>
    expect(
      lines
        .filter(({ line }) => /^\s*((row|column)-)?gap:|^\s*(padding|margin)[a-z-]*:/.test(line))
        .filter(({ line }) => /(?<![\w.])(?:[1-9]|1\d|20)px/.test(line.replace(/(calc|max|min|clamp)\(.*\)/, '')))
        .map(({ at }) => at),
    ).toEqual([]));
});
