import type Konva from "konva";
import { useEffect, useMemo, useRef } from "react";
import { Image as Picture, Layer as Sheet, Line, Rect, Shape, Stage, Transformer } from "react-konva";
import { boxOf, changed, snapped, type Layer, type Place, type Stack } from "../../primitives/stack";
import type { View } from "../../primitives/view";
import { blank, drawOn, prepared, type Canvas } from "./canvas";
import { useHand } from "./store";
import { drawStroke, type Stroke } from "./strokes";

interface Props {
  stack: Stack;
  /** Layers that are painted and not kept yet. */
  made: Layer[];
  canvases: ReadonlyMap<string, Canvas>;
  room: { width: number; height: number };
  view: View;
  /** A stroke that is being drawn, over all. */
  stroke: Stroke | null;
  onEdit: (change: (stack: Stack) => Stack) => void;
}

const CHECK = 8;
const SNAP = 6;
const AMBER = "#e0922f";

/** Grey checks: what is clear shows them. */
function checks(): Canvas {
  const canvas = blank(2 * CHECK, 2 * CHECK);
  const draw = drawOn(canvas);
  draw.fillStyle = "#9a9a9a";
  draw.fillRect(0, 0, 2 * CHECK, 2 * CHECK);
  draw.fillStyle = "#8a8a8a";
  draw.fillRect(0, 0, CHECK, CHECK);
  draw.fillRect(CHECK, CHECK, CHECK, CHECK);
  return canvas;
}

/** The layers as they lie; the picked one has handles while things are placed. */
export function HandStage({ stack, made, canvases, room, view, stroke, onEdit }: Props) {
  const { tool, picked, selection, set } = useHand();
  const ground = useMemo(() => checks(), []);
  const nodes = useRef(new Map<string, Konva.Image>());
  const handles = useRef<Konva.Transformer>(null);
  const guides = useRef<Konva.Line[]>([]);
  const chosen = stack.layers.find((layer) => layer.id === picked && layer.shown && !layer.locked);
  const placing = tool === "place";
  useEffect(() => {
    const node = placing && chosen ? nodes.current.get(chosen.id) : undefined;
    handles.current?.nodes(node ? [node] : []);
  });
  const shade = useMemo(() => (selection ? shadeOf(selection.plane, selection.width, selection.height) : null), [selection]);

  const guide = (across: number[], down: number[]) => {
    guides.current[0]?.setAttrs({ visible: across.length > 0, points: [across[0] ?? 0, 0, across[0] ?? 0, stack.height] });
    guides.current[1]?.setAttrs({ visible: down.length > 0, points: [0, down[0] ?? 0, stack.width, down[0] ?? 0] });
  };
  const placeOf = (node: Konva.Image, before: Place): Place => ({
    ...before,
    x: node.x(),
    y: node.y(),
    width: Math.min(Math.max(before.width * Math.abs(node.scaleX()), 1), 8192),
    height: Math.min(Math.max(before.height * Math.abs(node.scaleY()), 1), 8192),
    turn: ((node.rotation() + 540) % 360) - 180,
  });
  return (
    <Stage width={room.width} height={room.height} onPointerDown={(event) => placing && event.target.getStage() === event.target && set({ picked: null })}>
      <Sheet x={view.x} y={view.y} scaleX={view.scale} scaleY={view.scale} clipX={placing ? undefined : 0} clipY={0} clipWidth={placing ? undefined : stack.width} clipHeight={stack.height}>
        <Rect width={stack.width} height={stack.height} fillPatternImage={ground as unknown as HTMLImageElement} fillPatternScale={{ x: 1 / view.scale, y: 1 / view.scale }} listening={false} />
        {[...stack.layers, ...made.filter((own) => stack.layers.every((layer) => layer.id !== own.id))].map((layer) => {
          const canvas = canvases.get(layer.id);
          if (!layer.shown || !canvas) return null;
          const { place } = layer;
          const shown = prepared(canvas, place);
          const [sx, sy] = [place.width / shown.width, place.height / shown.height];
          return (
            <Picture
              key={layer.id}
              ref={(node: Konva.Image | null) => void (node ? nodes.current.set(layer.id, node) : nodes.current.delete(layer.id))}
              image={shown.canvas}
              x={place.x}
              y={place.y}
              width={shown.canvas.width * sx}
              height={shown.canvas.height * sy}
              offsetX={(shown.canvas.width * sx) / 2}
              offsetY={(shown.canvas.height * sy) / 2}
              scaleX={place.across ? -1 : 1}
              scaleY={place.down ? -1 : 1}
              rotation={place.turn ?? 0}
              opacity={layer.opacity}
              draggable={placing && !layer.locked}
              listening={placing && !layer.locked}
              onPointerDown={() => set({ picked: layer.id })}
              onDragMove={(event) => {
                const now = { ...place, x: event.target.x(), y: event.target.y() };
                const snap = event.evt.altKey ? { x: now.x, y: now.y, across: [], down: [] } : snapped(now, stack, SNAP / view.scale);
                event.target.position({ x: snap.x, y: snap.y });
                guide(snap.across, snap.down);
              }}
              onDragEnd={(event) => {
                guide([], []);
                onEdit((s) => changed(s, layer.id, { place: { ...place, x: event.target.x(), y: event.target.y() } }));
              }}
              onTransformEnd={(event) => {
                const node = event.target as Konva.Image;
                const next = placeOf(node, place);
                node.scale({ x: place.across ? -1 : 1, y: place.down ? -1 : 1 });
                onEdit((s) => changed(s, layer.id, { place: next }));
              }}
            />
          );
        })}
      </Sheet>
      {/* What changes with every move of the pointer lies by itself, so that the layers are not drawn again. */}
      <Sheet x={view.x} y={view.y} scaleX={view.scale} scaleY={view.scale} clipX={0} clipY={0} clipWidth={stack.width} clipHeight={stack.height} listening={false}>
        {stroke && <Shape listening={false} sceneFunc={(context) => drawStroke(context._context as CanvasRenderingContext2D, stroke)} />}
        {shade && <Picture image={shade} listening={false} opacity={0.55} />}
        {[0, 1].map((k) => (
          <Line key={k} ref={(line: Konva.Line | null) => void (guides.current[k] = line!)} points={[0, 0, 0, 0]} stroke={AMBER} strokeWidth={1 / view.scale} visible={false} listening={false} />
        ))}
      </Sheet>
      <Sheet>
        {!placing && chosen && <Outline place={chosen.place} view={view} />}
        <Transformer ref={handles} visible={placing && Boolean(chosen)} rotateAnchorOffset={24} anchorSize={9} anchorStroke={AMBER} borderStroke={AMBER} anchorCornerRadius={5} keepRatio flipEnabled={false} rotationSnaps={[-90, 0, 90, 180]} rotationSnapTolerance={3} />
      </Sheet>
    </Stage>
  );
}

/** Where the picked layer lies, while another tool is in the hand. */
function Outline({ place, view }: { place: Place; view: View }) {
  const box = boxOf(place);
  return <Rect x={view.x + box.left * view.scale} y={view.y + box.top * view.scale} width={(box.right - box.left) * view.scale} height={(box.bottom - box.top) * view.scale} stroke={AMBER} strokeWidth={1} dash={[4, 4]} listening={false} />;
}

/** What is not selected, darkened, with a light line around what is. */
function shadeOf(plane: Uint8ClampedArray, width: number, height: number): Canvas {
  const canvas = blank(width, height);
  const draw = drawOn(canvas);
  const data = draw.createImageData(width, height);
  for (let k = 0; k < plane.length; k++) {
    const inside = plane[k]! > 127;
    const rim = inside && [k - 1, k + 1, k - width, k + width].some((n) => (plane[n] ?? 0) <= 127);
    data.data.set(rim ? [255, 214, 140, 255] : [12, 16, 20, 255 - plane[k]!], 4 * k);
  }
  draw.putImageData(data, 0, 0);
  return canvas;
}
