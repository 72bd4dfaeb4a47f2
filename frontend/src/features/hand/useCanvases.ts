import { useCallback, useEffect, useRef, useState } from "react";
import { sayFault } from "../../common/notices";
import type { Stack } from "../../primitives/stack";
import { layerCanvas, type Canvas } from "./canvas";

const keyOf = (layer: Stack["layers"][number]) => (layer.ground ? `${layer.ground.top}${layer.ground.bottom}${layer.place.width}x${layer.place.height}` : `${layer.picture}${layer.mask ?? ""}`);

/** Pixels of every layer, by its id; what is being painted takes the place of what is kept until that has come. */
export function useCanvases(stack: Stack | undefined) {
  const [canvases, setCanvases] = useState<ReadonlyMap<string, Canvas>>(new Map());
  const held = useRef(new Map<string, { key: string; canvas: Canvas }>());
  const painted = useRef(new Map<string, Canvas>());

  const coming = useRef<Promise<void>>(Promise.resolve());

  const all = useCallback(() => new Map([...[...held.current].map(([id, { canvas }]) => [id, canvas] as const), ...painted.current]), []);
  const show = useCallback(() => setCanvases(all()), [all]);

  useEffect(() => {
    if (!stack) return;
    let here = true;
    const there = new Set(stack.layers.map((layer) => layer.id));
    for (const id of held.current.keys()) if (!there.has(id)) held.current.delete(id);
    coming.current = Promise.all(
      stack.layers.map(async (layer) => {
        const key = keyOf(layer);
        if (held.current.get(layer.id)?.key !== key) held.current.set(layer.id, { key, canvas: await layerCanvas(layer) });
      }),
    )
      .then(() => {
        if (here) show();
      })
      .catch(sayFault);
    return () => {
      here = false;
    };
  }, [stack, show]);

  /** Show what is painted on a layer now. */
  const showPainted = useCallback(
    (id: string, canvas: Canvas) => {
      painted.current.set(id, canvas);
      show();
    },
    [show],
  );
  /** It is kept: from here on the layer shows what is kept, unless more was painted since. */
  const letGo = useCallback(
    (id: string, canvas: Canvas) => {
      if (painted.current.get(id) !== canvas) return;
      painted.current.delete(id);
      show();
    },
    [show],
  );
  /** All layers' pixels, once those on their way have come. */
  const seen = useCallback(async (): Promise<ReadonlyMap<string, Canvas>> => {
    await coming.current;
    return all();
  }, [all]);
  return { canvases, seen, showPainted, letGo };
}
