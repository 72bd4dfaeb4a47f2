/** The same spot of several pictures, enlarged: where a picture must lie so that the spot is in the middle of its cell. */

export interface Spot {
  /** Shares of the picture, 0 to 1. */
  x: number;
  y: number;
  /** Screen pixels for one of the picture's. */
  zoom: number;
}

interface Size {
  width: number;
  height: number;
}

export const SPOT_ZOOMS = [1, 2, 4];

/** Left and top of a picture in its cell, never leaving a gap that the picture could fill. */
export function spotOffset(spot: Spot, picture: Size, cell: Size): { left: number; top: number } {
  const along = (share: number, length: number, room: number) => {
    const whole = length * spot.zoom;
    if (whole <= room) return (room - whole) / 2;
    return Math.min(0, Math.max(room - whole, room / 2 - share * whole));
  };
  return { left: along(spot.x, picture.width, cell.width), top: along(spot.y, picture.height, cell.height) };
}

/** The spot after the pictures were dragged by some screen pixels. */
export function draggedSpot(spot: Spot, dx: number, dy: number, picture: Size): Spot {
  const hold = (v: number) => Math.min(Math.max(v, 0), 1);
  return { ...spot, x: hold(spot.x - dx / (picture.width * spot.zoom)), y: hold(spot.y - dy / (picture.height * spot.zoom)) };
}

/** The next zoom up or down. */
export function nextZoom(zoom: number, up: boolean): number {
  const at = SPOT_ZOOMS.indexOf(zoom);
  return SPOT_ZOOMS[Math.min(Math.max(at + (up ? 1 : -1), 0), SPOT_ZOOMS.length - 1)]!;
}
