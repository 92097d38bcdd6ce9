/**
 * No answer holds a figure that is none: JSON would write NaN and Infinity as null, and a page would draw them as nothing.
 * @throws Error naming where it stands
 */
export function requireFinite(answer: unknown, path = 'answer'): void {
  if (typeof answer === 'number') {
    if (!Number.isFinite(answer)) throw new Error(`${path} is ${answer}`);
  } else if (Array.isArray(answer)) {
    for (let i = 0; i < answer.length; i++) requireFinite(answer[i], path);
  } else if (answer !== null && typeof answer === 'object') {
    for (const key in answer) requireFinite((answer as Record<string, unknown>)[key], key);
  }
}
