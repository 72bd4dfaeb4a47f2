import { useEffect, useState } from "react";
import { colourAt, usePixels } from "./usePixels";

export interface Pointed {
  /** In shares of the picture. */
  x: number;
  y: number;
}

interface Props {
  pictures: { label: string; src: string }[];
  size: { width: number; height: number };
  /** Tells where the hand points, or null. */
  listen: (tell: (at: Pointed | null) => void) => () => void;
}

/** What lies under the pointer: the place in pixels, and the colour of every picture there. */
export function Under({ pictures, size, listen }: Props) {
  const [at, setAt] = useState<Pointed | null>(null);
  useEffect(() => listen(setAt), [listen]);
  const inside = at && at.x >= 0 && at.y >= 0 && at.x < 1 && at.y < 1 ? at : null;
  return (
    <span className="flex h-5 min-w-0 items-center gap-3 overflow-hidden text-[13px] text-faint" data-testid="under">
      {inside && (
        <>
          <span className="whitespace-nowrap">
            {Math.floor(inside.x * size.width)}, {Math.floor(inside.y * size.height)}
          </span>
          {pictures.map((picture) => (
            <Colour key={picture.label + picture.src} {...picture} at={inside} />
          ))}
        </>
      )}
    </span>
  );
}

function Colour({ label, src, at }: { label: string; src: string; at: Pointed }) {
  const colour = colourAt(usePixels(src), at.x, at.y);
  if (!colour) return null;
  return (
    <span className="flex items-center gap-1 whitespace-nowrap">
      {label}
      <span className="h-3 w-3 rounded-sm border border-black/30" style={{ background: colour }} />
      <span className="tabular-nums">{colour}</span>
    </span>
  );
}
