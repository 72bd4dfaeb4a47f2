/** A composition blocked in with a few coloured areas, and the SVG that it is kept as. */

export type AreaKind = "land" | "hill" | "disc" | "box" | "polygon";

export interface Area {
  id: number;
  kind: AreaKind;
  colour: string;
  /** Corners or, for a disc, its box: shares of the canvas. Land has one point, its horizon. */
  points: [number, number][];
}

export interface BlockIn {
  width: number;
  height: number;
  /** Colours of the ground at its top and bottom. */
  ground: [string, string];
  areas: Area[];
}

export const AREA_TITLES: Record<AreaKind, string> = { land: "Land or water", hill: "Hill", disc: "Disc", box: "Box", polygon: "Polygon" };

const BEGIN: Record<AreaKind, { colour: string; points: [number, number][] }> = {
  land: { colour: "#56703f", points: [[0.5, 0.62]] },
  hill: { colour: "#47634f", points: [[0.1, 0.66], [0.4, 0.36], [0.78, 0.66]] },
  disc: { colour: "#f3c66a", points: [[0.62, 0.14], [0.76, 0.34]] },
  box: { colour: "#8a5a44", points: [[0.34, 0.42], [0.52, 0.7]] },
  polygon: { colour: "#3c5a74", points: [[0.2, 0.75], [0.5, 0.6], [0.8, 0.78], [0.5, 0.92]] },
};
const LOW = -0.5;
const HIGH = 1.5;
const fine = (v: number) => Math.round(Math.min(Math.max(v, LOW), HIGH) * 10000) / 10000;

export const emptyBlockIn = (width = 1152, height = 768): BlockIn => ({
  width,
  height,
  ground: ["#7fa8cf", "#dfe7ea"],
  areas: [{ id: 1, kind: "land", ...structuredClone(BEGIN.land) }],
});

export function addArea(block: BlockIn, kind: AreaKind): BlockIn {
  const id = Math.max(0, ...block.areas.map((a) => a.id)) + 1;
  return { ...block, areas: [...block.areas, { id, kind, ...structuredClone(BEGIN[kind]) }] };
}

export const changeArea = (block: BlockIn, id: number, part: Partial<Area>): BlockIn => ({ ...block, areas: block.areas.map((a) => (a.id === id ? { ...a, ...part } : a)) });

export const removeArea = (block: BlockIn, id: number): BlockIn => ({ ...block, areas: block.areas.filter((a) => a.id !== id) });

/** An area moved by shares of the canvas; land moves up and down only. */
export function moveArea(block: BlockIn, id: number, dx: number, dy: number): BlockIn {
  const area = block.areas.find((a) => a.id === id);
  if (!area) return block;
  const across = area.kind === "land" ? 0 : dx;
  return changeArea(block, id, { points: area.points.map(([x, y]) => [fine(x + across), fine(y + dy)]) });
}

/** One corner put somewhere else. */
export function movePoint(block: BlockIn, id: number, index: number, x: number, y: number): BlockIn {
  const area = block.areas.find((a) => a.id === id);
  if (!area) return block;
  return changeArea(block, id, { points: area.points.map((p, i) => (i === index ? [area.kind === "land" ? p[0] : fine(x), fine(y)] : p)) });
}

/** A corner more on the longest side of a polygon. */
export function addPoint(block: BlockIn, id: number): BlockIn {
  const area = block.areas.find((a) => a.id === id);
  if (area?.kind !== "polygon") return block;
  const sides = area.points.map((p, i) => {
    const q = area.points[(i + 1) % area.points.length]!;
    return Math.hypot(q[0] - p[0], q[1] - p[1]);
  });
  const at = sides.indexOf(Math.max(...sides));
  const p = area.points[at]!;
  const q = area.points[(at + 1) % area.points.length]!;
  const middle: [number, number] = [fine((p[0] + q[0]) / 2), fine((p[1] + q[1]) / 2)];
  return changeArea(block, id, { points: [...area.points.slice(0, at + 1), middle, ...area.points.slice(at + 1)] });
}

/** Nearer to the front or the back. */
export function orderArea(block: BlockIn, id: number, by: number): BlockIn {
  const at = block.areas.findIndex((a) => a.id === id);
  const to = Math.min(Math.max(at + by, 0), block.areas.length - 1);
  if (at < 0 || at === to) return block;
  const areas = [...block.areas];
  areas.splice(to, 0, ...areas.splice(at, 1));
  return { ...block, areas };
}

/** The SVG element of an area, as a name and its attributes. */
export function shapeOf(area: Area, width: number, height: number): { name: "rect" | "ellipse" | "path" | "polygon"; attributes: Record<string, string | number> } {
  const at = area.points.map(([x, y]) => [Math.round(x * width * 10) / 10, Math.round(y * height * 10) / 10] as const);
  const [a, b, c] = at;
  switch (area.kind) {
    case "land":
      return { name: "rect", attributes: { x: 0, y: a![1], width, height: Math.max(height - a![1], 0) } };
    case "hill": {
      // A bell from foot over top to foot, and straight down below its feet.
      const low = Math.max(a![1], c![1]);
      const d = `M${a![0]} ${a![1]}C${(a![0] + b![0]) / 2} ${a![1]} ${(a![0] + b![0]) / 2} ${b![1]} ${b![0]} ${b![1]}S${(b![0] + c![0]) / 2} ${c![1]} ${c![0]} ${c![1]}L${c![0]} ${low}L${a![0]} ${low}Z`;
      return { name: "path", attributes: { d } };
    }
    case "disc":
      return { name: "ellipse", attributes: { cx: (a![0] + b![0]) / 2, cy: (a![1] + b![1]) / 2, rx: Math.abs(b![0] - a![0]) / 2, ry: Math.abs(b![1] - a![1]) / 2 } };
    case "box":
      return { name: "rect", attributes: { x: Math.min(a![0], b![0]), y: Math.min(a![1], b![1]), width: Math.abs(b![0] - a![0]), height: Math.abs(b![1] - a![1]) } };
    case "polygon":
      return { name: "polygon", attributes: { points: at.map((p) => p.join(",")).join(" ") } };
  }
}

const NAMESPACE = "urn:warm-tide:block-in:1";

/** The SVG of a block-in; what made it stands in its metadata, so that it can be opened again. */
export function writeSvg(block: BlockIn): string {
  const { width, height, ground } = block;
  const shapes = block.areas.map((area) => {
    const { name, attributes } = shapeOf(area, width, height);
    return `  <${name} ${Object.entries(attributes).map(([k, v]) => `${k}="${v}"`).join(" ")} fill="${area.colour}"/>`;
  });
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">`,
    `  <metadata><block-in xmlns="${NAMESPACE}">${JSON.stringify(block)}</block-in></metadata>`,
    `  <defs><linearGradient id="ground" x1="0" y1="0" x2="0" y2="1"><stop offset="0" stop-color="${ground[0]}"/><stop offset="1" stop-color="${ground[1]}"/></linearGradient></defs>`,
    `  <rect width="${width}" height="${height}" fill="url(#ground)"/>`,
    ...shapes,
    "</svg>",
    "",
  ].join("\n");
}

/** The block-in that an SVG was written from, or null for any other SVG. */
export function readSvg(svg: string): BlockIn | null {
  const found = new RegExp(`<block-in xmlns="${NAMESPACE}">(.*?)</block-in>`, "s").exec(svg);
  if (!found) return null;
  try {
    const block = JSON.parse(found[1]!) as BlockIn;
    const whole = block.width > 0 && block.height > 0 && Array.isArray(block.ground) && Array.isArray(block.areas);
    return whole && block.areas.every((a) => a.kind in BEGIN && a.points.length >= 1) ? block : null;
  } catch {
    return null;
  }
}
