import type { KeyboardEvent } from "react";
import { TALL, type Oval } from "../../primitives/faces";

interface Props {
  oval: Oval;
  /** Longer side of the picture on the screen, in pixels. */
  long: number;
  name: string;
  chosen: boolean;
  onChoose: () => void;
  onKeyDown: (event: KeyboardEvent) => void;
}

const HANDLE = 6;

/** A marked face: an oval with its brow line; handles to widen and lean it while it is chosen. */
export function FaceOval({ oval, long, name, chosen, onChoose, onKeyDown }: Props) {
  const [rx, ry] = [(oval.width * long) / 2, (oval.width * long * TALL) / 2];
  const handle = { r: HANDLE, className: "cursor-grab fill-white stroke-black" };
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`${name}${oval.angle ? `, leaning ${Math.abs(oval.angle)} degrees ${oval.angle > 0 ? "right" : "left"}` : ""}`}
      aria-pressed={chosen}
      transform={`translate(${oval.x * long} ${oval.y * long}) rotate(${oval.angle})`}
      onFocus={onChoose}
      onKeyDown={onKeyDown}
      className="cursor-move outline-none [&:focus-visible>ellipse]:stroke-[4px]"
    >
      {/* White within black is seen on any picture. */}
      <ellipse rx={rx} ry={ry} fill="transparent" stroke="#000" strokeWidth={chosen ? 5 : 4} opacity={0.65} />
      <ellipse rx={rx} ry={ry} fill="none" stroke="#fff" strokeWidth={chosen ? 2.5 : 1.5} strokeDasharray={chosen ? undefined : "6 4"} />
      <line x1={-rx * 0.55} x2={rx * 0.55} y1={-ry * 0.22} y2={-ry * 0.22} stroke="#fff" strokeWidth={1} opacity={0.8} />
      {chosen && (
        <>
          <line y1={-ry} y2={-ry - 18} stroke="#fff" />
          <circle data-handle="lean" cy={-ry - 18} {...handle} />
          <circle data-handle="widen" cx={rx} {...handle} />
        </>
      )}
    </g>
  );
}
