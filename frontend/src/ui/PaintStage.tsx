import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from "react";
import { nextWidth, stepped, type Stroke } from "../primitives/region";

interface Props {
  /** Address of the picture that is painted on, and its name. */
  picture: string;
  name: string;
  /** What the brush does, said to those who paint by keyboard. */
  label: string;
  /** Size on the screen, and of the mask. */
  shown: { width: number; height: number };
  size: { width: number; height: number };
  /** The mask as opacity, drawn by whoever owns it; `version` changes whenever it was. */
  mask: RefObject<HTMLCanvasElement | null>;
  version: string;
  /** How far the rest is dimmed, 0 to 1. */
  dim: number;
  erase: boolean;
  width: number;
  onWidth: (width: number) => void;
  /** A stroke, begun or going on. */
  onStroke: (stroke: Stroke, first: boolean) => void;
}

/** A picture that a soft brush paints a mask on: what is masked shows as it is, the rest is dimmed. */
export function PaintStage({ picture, name, label, shown, size, mask, version, dim, erase, width, onWidth, onStroke }: Props) {
  const [at, setAt] = useState<{ x: number; y: number } | null>(null);
  const stroke = useRef<Stroke | null>(null);
  const pointOf = (event: PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    return { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height };
  };
  const begin = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    stroke.current = { erase: erase || event.altKey, width, points: [pointOf(event)] };
    onStroke(stroke.current, true);
  };
  const move = (event: PointerEvent) => {
    setAt(pointOf(event));
    if (!stroke.current) return;
    stroke.current = { ...stroke.current, points: [...stroke.current.points, pointOf(event)] };
    onStroke(stroke.current, false);
  };
  const key = (event: KeyboardEvent) => {
    const here = at ?? { x: 0.5, y: 0.5 };
    const next = stepped(here, event.key, event.shiftKey);
    if (!next && event.key !== " ") return;
    event.preventDefault();
    event.stopPropagation();
    if (next) setAt(next);
    else onStroke({ erase, width, points: [here] }, true);
  };
  const brush = width * Math.max(shown.width, shown.height);
  return (
    <div className="relative" style={shown}>
      <img src={picture} alt={name} {...shown} className="block" draggable={false} />
      <div aria-hidden className="pointer-events-none absolute inset-0 bg-[#333]" style={{ opacity: dim }} />
      <canvas ref={mask} {...size} hidden />
      <Through mask={mask} picture={picture} shown={shown} size={size} version={version} />
      <div
        role="application"
        aria-label={`${label}: arrows move the brush, Space paints`}
        tabIndex={0}
        className="absolute inset-0 cursor-none touch-none overflow-hidden"
        onPointerDown={begin}
        onPointerMove={move}
        onPointerUp={() => (stroke.current = null)}
        onPointerLeave={() => setAt(null)}
        onWheel={(event) => onWidth(nextWidth(width, event.deltaY < 0))}
        onKeyDown={key}
      >
        {at && <span aria-hidden className={`pointer-events-none absolute rounded-full border-2 ${erase ? "border-dashed" : ""} border-white shadow-[0_0_0_1px_#000]`} style={{ width: brush, height: brush, left: at.x * shown.width - brush / 2, top: at.y * shown.height - brush / 2 }} />}
      </div>
    </div>
  );
}

/** The picture again where the mask is painted, over its dimmed self. */
function Through({ mask, picture, shown, size, version }: Pick<Props, "mask" | "picture" | "shown" | "size" | "version">) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [image, setImage] = useState<HTMLImageElement | null>(null);
  useEffect(() => {
    const loaded = new Image();
    loaded.onload = () => setImage(loaded);
    loaded.src = picture;
  }, [picture]);
  useEffect(() => {
    const draw = canvas.current?.getContext("2d");
    if (!draw || !mask.current) return;
    draw.globalCompositeOperation = "source-over";
    draw.clearRect(0, 0, size.width, size.height);
    draw.drawImage(mask.current, 0, 0);
    draw.globalCompositeOperation = "source-in";
    if (image) draw.drawImage(image, 0, 0, size.width, size.height);
  }, [version, image, mask, size.width, size.height]);
  return <canvas ref={canvas} {...size} aria-hidden className="pointer-events-none absolute inset-0" style={shown} />;
}
