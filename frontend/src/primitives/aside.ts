/** Where a panel over the sheet stands, so that it does not cover the take that it speaks of. */

interface Span {
  left: number;
  right: number;
}

/** Width of what is said of a take, in pixels. */
export const SIDE_WIDTH = 240;
/** From its own edge and from the take. */
const CLEAR = 6;

/**
 * Distance of the panel from the right edge of its frame: at the edge, or left of a take that lies under it there;
 * at the edge all the same where left of the take there is no room either.
 */
export function asideFor(frame: Span, take: Span | undefined): number {
  const free = take === undefined || take.right <= frame.right - SIDE_WIDTH - CLEAR || take.left >= frame.right;
  if (free) return CLEAR;
  const room = take.left - CLEAR - SIDE_WIDTH >= frame.left;
  return room ? Math.round(frame.right - take.left + CLEAR) : CLEAR;
}
