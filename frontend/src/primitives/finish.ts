/** Sizes on paper, pictures named in an address, points of traced paths. */

export type OfKind = "take" | "source" | "enlargement";
export interface Of {
  kind: OfKind;
  id: string;
}

const CM_PER_INCH = 2.54;
const KINDS: readonly OfKind[] = ["take", "source", "enlargement"];

/** Dots per inch that are written into files. */
const [LEAST_DPI, MOST_DPI] = [36, 2400];
export const asDpi = (value: number): number => Math.min(Math.max(Math.round(value), LEAST_DPI), MOST_DPI);

export type Unit = "cm" | "inch";

/** Pixels of a length on paper. */
export const pixelsOf = (length: number, unit: Unit, dpi: number): number => Math.round((unit === "cm" ? length / CM_PER_INCH : length) * dpi);

/** A length on paper of so many pixels. */
export const lengthOf = (pixels: number, unit: Unit, dpi: number): number => (pixels / dpi) * (unit === "cm" ? CM_PER_INCH : 1);

/** "42.0 x 28.0 cm at 300 dpi". */
export const onPaper = (width: number, height: number, dpi: number): string => `${lengthOf(width, "cm", dpi).toFixed(1)} \u00d7 ${lengthOf(height, "cm", dpi).toFixed(1)} cm at ${dpi} dpi`;

/** Pictures as they stand in an address: "take:ID,source:ID". */
export const writeOf = (of: Of[]): string => of.map((one) => `${one.kind}:${one.id}`).join(",");

export function readOf(text: string | null): Of[] {
  return (text ?? "").split(",").flatMap((part) => {
    const [kind, id] = part.split(":");
    return id && KINDS.includes(kind as OfKind) ? [{ kind: kind as OfKind, id }] : [];
  });
}

/** The size of a picture whose long side gets so many pixels. */
export function sizedTo(width: number, height: number, side: number): { width: number; height: number } {
  const scale = side / Math.max(width, height);
  return { width: Math.max(Math.round(width * scale), 1), height: Math.max(Math.round(height * scale), 1) };
}

/** Points at which the pieces of an SVG path end. */
export function nodesOf(path: string): [number, number][] {
  return [...path.matchAll(/([MLC])([^MLCZ]+)/g)].map(([, , numbers]) => {
    const all = numbers!.trim().split(/[\s,]+/).map(Number);
    return [all.at(-2)!, all.at(-1)!];
  });
}

/** A traced SVG with its nodes drawn over it, each so many of its pixels across. */
export function withNodes(svg: string, size: number): string {
  const dots = [...svg.matchAll(/ d="([^"]+)"/g)].flatMap(([, path]) => nodesOf(path!));
  const shown = dots.map(([x, y]) => `<circle cx="${x}" cy="${y}" r="${size}"/>`).join("");
  return svg.replace("</svg>", `<g fill="#ff4d00" stroke="#fff" stroke-width="${size / 3}">${shown}</g></svg>`);
}

/** A traced SVG in which colours are others. */
export function recoloured(svg: string, colours: Record<string, string>): string {
  return svg.replace(/(fill|stroke)="(#[0-9a-f]{6})"/g, (whole, name: string, colour: string) => (colours[colour] ? `${name}="${colours[colour]}"` : whole));
}
