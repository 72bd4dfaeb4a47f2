/** The geometry of a framing, pixel for pixel as the server does it. */

export interface FramingLike {
  turn?: number;
  straighten?: number;
  flip?: boolean;
  left?: number;
  top?: number;
  right?: number;
  bottom?: number;
  margin?: number;
  shape?: number | null;
  fit?: "pad" | "stretch";
  scale?: number;
  shift_x?: number;
  shift_y?: number;
}

export interface Area {
  left: number;
  top: number;
  width: number;
  height: number;
}

export interface Placed {
  /** The output in pixels. */
  width: number;
  height: number;
  /** The crop in the turned original. */
  crop: Area;
  /** Where the crop lies in the output; may reach over its edges. */
  inner: Area;
  /** How much wider than it was, 1 where nothing is stretched. */
  stretched: number;
}

const LEAST = 8;

/** Python's rounding: halves to the even neighbour. */
export function evenRound(v: number): number {
  const floor = Math.floor(v);
  if (v - floor !== 0.5) return Math.round(v);
  return floor % 2 === 0 ? floor : floor + 1;
}

export function turnedSize(original: { width: number; height: number }, framing: FramingLike) {
  return framing.turn === 90 || framing.turn === 270 ? { width: original.height, height: original.width } : { width: original.width, height: original.height };
}

/** Output size and places of a picture framed with a long side of `size` pixels. */
export function placed(original: { width: number; height: number }, framing: FramingLike, size: number): Placed {
  const { width, height } = turnedSize(original, framing);
  const edge = (share: number, of: number) => evenRound(share * of);
  const top = edge(framing.top ?? 0, height);
  const bottom = Math.max(edge(framing.bottom ?? 1, height), top + 1);
  const left = edge(framing.left ?? 0, width);
  const right = Math.max(edge(framing.right ?? 1, width), left + 1);
  const crop = { left, top, width: right - left, height: bottom - top };
  const pad = 2 * (framing.margin ?? 0) * Math.max(crop.width, crop.height);
  let wide = crop.width + pad;
  let tall = crop.height + pad;
  let change = 1;
  if (framing.shape) {
    const now = wide / tall;
    if (framing.fit === "stretch") {
      change = Math.sqrt(framing.shape / now);
      tall /= change;
      wide *= change;
    } else if (framing.shape > now) wide = tall * framing.shape;
    else tall = wide / framing.shape;
  }
  const scale = size / Math.max(wide, tall);
  const out = { width: Math.max(LEAST, evenRound(wide * scale)), height: Math.max(LEAST, evenRound(tall * scale)) };
  const grown = framing.scale ?? 1;
  const inner = {
    width: Math.max(evenRound((crop.width * change * grown * out.width) / wide), 1),
    height: Math.max(evenRound(((crop.height / change) * grown * out.height) / tall), 1),
  };
  return {
    ...out,
    crop,
    inner: {
      ...inner,
      left: Math.floor((out.width - inner.width) / 2) + evenRound((framing.shift_x ?? 0) * out.width),
      top: Math.floor((out.height - inner.height) / 2) + evenRound((framing.shift_y ?? 0) * out.height),
    },
    stretched: change * change,
  };
}

/** A stretch in words, such as "12 % wider"; empty where there is none. */
export function stretchWords(stretched: number): string {
  const percent = Math.round(Math.abs((stretched > 1 ? stretched : 1 / stretched) - 1) * 100);
  return percent ? `${percent} % ${stretched > 1 ? "wider" : "taller"} than it was` : "";
}
