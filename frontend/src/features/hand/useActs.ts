import { useAway } from "./useAway";
import { useBase, type Given } from "./useBase";
import { useLayerActs } from "./useLayerActs";
import { useLaying } from "./useLaying";
import { useSelectActs } from "./useSelectActs";

/** What is done to the stack by a button or a key. */
export function useActs(given: Given) {
  const base = useBase(given);
  return { busy: base.busy, layer: base.layer, ...useLaying(given, base), ...useSelectActs(given, base), ...useLayerActs(given, base), ...useAway(given, base) };
}

export type Acts = ReturnType<typeof useActs>;
