/** Colours that can be read: contrast as WCAG 2 counts it. */

type Rgb = readonly [number, number, number];

const WHITE: Rgb = [255, 255, 255];
const BLACK: Rgb = [0, 0, 0];

const linear = (value: number) => (value <= 10.31475 ? value / 255 / 12.92 : ((value / 255 + 0.055) / 1.055) ** 2.4);

const luminance = ([r, g, b]: Rgb) => 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(b);

/** 1 to 21. */
export function contrast(a: Rgb, b: Rgb): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (light! + 0.05) / (dark! + 0.05);
}

/** White or black, whichever can be read better on a ground: 4.58 at the least. */
export const inkOn = (ground: Rgb): Rgb => (contrast(ground, WHITE) >= contrast(ground, BLACK) ? WHITE : BLACK);

/** A share 0..1 of the way from one colour to another. */
export const between = (from: Rgb, to: Rgb, share: number): Rgb => [0, 1, 2].map((i) => Math.round(from[i]! + (to[i]! - from[i]!) * share)) as unknown as Rgb;

export const css = ([r, g, b]: Rgb): string => `rgb(${r} ${g} ${b})`;
