import { useCallback, useEffect, useRef, useState } from "react";
import { sayFault } from "../../common/notices";
import type { Stack } from "../../primitives/stack";
import { layerCanvas, type Canvas } from "./canvas";

const keyOf = (layer: Stack["layers"][number]) => (layer.ground ? `${layer.ground.top}${layer.ground.bottom}${layer.place.width}x${layer.place.height}` : `${layer.picture}${layer.mask ?? ""}`);

/** Pixels of every layer, by its id; what is being painted takes the place of what is kept until that has come. */
export function useCanvases(stack: Stack | undefined) {
  const [canvases, setCanvases] = useState<ReadonlyMap<string, Canvas>>(new Map());
  const held = useRef(new Map<string, { key: string; canvas: Canvas }>());
  const own = useRef(new Map<string, { from: string; canvas: Canvas }>());

  const show = useCallback((layers: Stack["layers"]) => {
    const next = new Map<string, Canvas>();
    for (const layer of layers) {
      const painted = own.current.get(layer.id);
      if (painted && painted.from !== keyOf(layer)) own.current.delete(layer.id);
      const canvas = own.current.get(layer.id)?.canvas ?? held.current.get(layer.id)?.canvas;
      if (canvas) next.set(layer.id, canvas);
    }
    setCanvases(next);
  }, []);

  useEffect(() => {
    if (!stack) return;
    let here = true;
    void Promise.all(
      stack.layers.map(async (layer) => {
        const key = keyOf(layer);
        if (held.current.get(layer.id)?.key !== key) held.current.set(layer.id, { key, canvas: await layerCanvas(layer) });
      }),
    )
      .then(() => here && show(stack.layers))
      .catch(sayFault);
    return () => {
      here = false;
    };
  }, [stack, show]);

  /** Show what is painted on a layer now, until what it becomes is kept. */
  const showPainted = useCallback(
    (layer: Stack["layers"][number], canvas: Canvas) => {
      own.current.set(layer.id, { from: keyOf(layer), canvas });
      setCanvases((now) => new Map(now).set(layer.id, canvas));
    },
    [],
  );
  return { canvases, showPainted };
}
