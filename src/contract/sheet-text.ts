const startsWith = (bytes: Uint8Array, start: readonly number[]) => start.every((byte, i) => bytes[i] === byte);

/**
 * A table's text in whatever letters it was saved: UTF-16 by its mark, UTF-8, else the letters of older Western programs.
 * @param cut the last letter may be cut off in the middle: a beginning of a file
 */
export function decodedText(bytes: Uint8Array, cut = false): string {
  if (startsWith(bytes, [0xff, 0xfe])) return new TextDecoder('utf-16le').decode(bytes);
  if (startsWith(bytes, [0xfe, 0xff])) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes, { stream: cut });
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}
