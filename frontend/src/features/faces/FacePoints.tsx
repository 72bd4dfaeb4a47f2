import type { FoundFace } from "../../api/client";

interface Props {
  face: FoundFace;
  /** Longer side of the picture on the screen, in pixels. */
  long: number;
}

/** The lines of a face as the program sees them: oval, eyes, brows, nose, lips. */
export function FacePoints({ face, long }: Props) {
  return (
    <g aria-hidden className="pointer-events-none" fill="none" strokeLinejoin="round">
      {(face.outlines ?? []).map((line, i) => {
        const points = line.map(([x = 0, y = 0]) => `${x * long},${y * long}`).join(" ");
        return (
          <g key={i}>
            <polyline points={points} stroke="#000" strokeWidth={2.5} opacity={0.5} />
            <polyline points={points} stroke="var(--color-glow)" strokeWidth={1.2} />
          </g>
        );
      })}
    </g>
  );
}
