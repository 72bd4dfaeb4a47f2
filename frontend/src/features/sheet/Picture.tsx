import { spotOffset, type Spot } from "../../primitives/spot";

interface Props {
  /** The picture at the size of its cell, and in full for a close look. */
  src: string;
  full: string;
  alt: string;
  natural: { width: number; height: number };
  width: number;
  height: number;
  spot: Spot | null;
  className?: string;
}

/** A picture of the sheet: whole, or one spot of it enlarged. */
export function Picture({ src, full, alt, natural, width, height, spot, className = "block" }: Props) {
  if (!spot) return <img src={src} alt={alt} width={width} height={height} draggable={false} className={`object-contain ${className}`} />;
  const { left, top } = spotOffset(spot, natural, { width, height });
  return (
    <span className={`overflow-hidden ${className}`} style={{ width, height, position: className.includes("absolute") ? undefined : "relative" }}>
      <img
        src={full}
        alt={alt}
        draggable={false}
        data-spot={`${spot.x.toFixed(3)} ${spot.y.toFixed(3)} ${spot.zoom}`}
        className="absolute max-w-none"
        style={{ left, top, width: natural.width * spot.zoom, height: natural.height * spot.zoom, imageRendering: spot.zoom > 1 ? "pixelated" : "auto" }}
      />
    </span>
  );
}
