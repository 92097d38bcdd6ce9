import type { z } from 'zod';

/** What a column keeps as JSON, or undefined where it is empty or cannot be understood: then the thing stands as if it had not been set. */
export function readJson<T>(schema: z.ZodType<T>, text: string | null | undefined): T | undefined {
  if (text === null || text === undefined) return undefined;
  try {
    return schema.safeParse(JSON.parse(text)).data;
  } catch {
    return undefined;
  }
}
