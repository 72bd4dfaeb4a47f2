/** Crop boxes in shares of a picture. */

export interface Crop {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export type Handle = "nw" | "ne" | "sw" | "se" | "n" | "s" | "w" | "e" | "move";

const LEAST = 0.05;
const clamp = (v: number, low: number, high: number) => Math.min(Math.max(v, low), Math.max(low, high));

/** The largest box of a shape (width over height, in shares) around the middle of another, inside the picture. */
export function shapedCrop(box: Crop, shape: number): Crop {
  const cx = (box.left + box.right) / 2;
  const cy = (box.top + box.bottom) / 2;
  let width = box.right - box.left;
  let height = box.bottom - box.top;
  if (width / height > shape) width = height * shape;
  else height = width / shape;
  const left = clamp(cx - width / 2, 0, 1 - width);
  const top = clamp(cy - height / 2, 0, 1 - height);
  return { left, top, right: left + width, bottom: top + height };
}

/** The box after a handle was dragged by shares of the picture; `shape` keeps its sides in proportion. */
export function draggedCrop(box: Crop, handle: Handle, dx: number, dy: number, shape: number | null): Crop {
  if (handle === "move") {
    const x = clamp(dx, -box.left, 1 - box.right);
    const y = clamp(dy, -box.top, 1 - box.bottom);
    return { left: box.left + x, top: box.top + y, right: box.right + x, bottom: box.bottom + y };
  }
  if (handle.length === 1) return draggedEdge(box, handle, handle === "n" || handle === "s" ? dy : dx, shape);
  const west = handle.endsWith("w");
  const north = handle.startsWith("n");
  const fixedX = west ? box.right : box.left;
  const fixedY = north ? box.bottom : box.top;
  const roomX = west ? fixedX : 1 - fixedX;
  const roomY = north ? fixedY : 1 - fixedY;
  let width = clamp((west ? box.right - box.left - dx : box.right - box.left + dx), LEAST, roomX);
  let height = clamp((north ? box.bottom - box.top - dy : box.bottom - box.top + dy), LEAST, roomY);
  if (shape !== null) {
    width = Math.min(Math.max(width, height * shape), roomX, roomY * shape);
    height = width / shape;
  }
  return {
    left: west ? fixedX - width : fixedX,
    right: west ? fixedX : fixedX + width,
    top: north ? fixedY - height : fixedY,
    bottom: north ? fixedY : fixedY + height,
  };
}

/** One edge moved; a shape that is kept makes the box grow or shrink around its middle the other way. */
function draggedEdge(box: Crop, handle: Handle, by: number, shape: number | null): Crop {
  const out = { ...box };
  if (handle === "w") out.left = clamp(box.left + by, 0, box.right - LEAST);
  if (handle === "e") out.right = clamp(box.right + by, box.left + LEAST, 1);
  if (handle === "n") out.top = clamp(box.top + by, 0, box.bottom - LEAST);
  if (handle === "s") out.bottom = clamp(box.bottom + by, box.top + LEAST, 1);
  if (shape === null) return out;
  const across = handle === "w" || handle === "e";
  const side = across ? (out.right - out.left) / shape : (out.bottom - out.top) * shape;
  if (side > 1) return box;
  const middle = across ? (box.top + box.bottom) / 2 : (box.left + box.right) / 2;
  const low = clamp(middle - side / 2, 0, 1 - side);
  return across ? { ...out, top: low, bottom: low + side } : { ...out, left: low, right: low + side };
}

/** The largest centred box, of the picture's own shape, that holds no corner of a picture turned by some degrees. */
export function levelCrop(picture: { width: number; height: number }, degrees: number): Crop {
  const turn = (Math.abs(degrees) * Math.PI) / 180;
  const { width, height } = picture;
  const share = Math.min(
    height / (height * Math.cos(turn) + width * Math.sin(turn)),
    width / (width * Math.cos(turn) + height * Math.sin(turn)),
  );
  const rim = (1 - share) / 2;
  return { left: rim, top: rim, right: 1 - rim, bottom: 1 - rim };
}

/** Share of the picture that a box keeps. */
export const keptShare = (box: Crop) => (box.right - box.left) * (box.bottom - box.top);
