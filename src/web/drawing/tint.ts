/** Colour of a reservoir by strength against what the pot should hold: paler is weaker, water green on target, turning plum when too strong. */
export function reservoirTint(ratio: number | undefined): string {
  if (ratio === undefined) return '#c9cfc6';
  if (ratio <= 1) return mix('#dcecea', '#3f8d93', Math.max(0, ratio));
  return mix('#3f8d93', '#7a3b52', Math.min(1, (ratio - 1) / 1.2));
}

function mix(from: string, to: string, t: number): string {
  const channel = (hex: string, i: number) => parseInt(hex.slice(1 + 2 * i, 3 + 2 * i), 16);
  return `rgb(${[0, 1, 2].map((i) => Math.round(channel(from, i) + (channel(to, i) - channel(from, i)) * t)).join(' ')})`;
}
