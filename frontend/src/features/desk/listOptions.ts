import type { Choices, SourceView } from "../../api/client";
import { QUALITIES, type ListControl } from "../../study/controls";

export interface ListOption {
  value: string;
  title: string;
  detail: string;
}

const SIZES = [256, 384, 512, 768, 1024, 1536, 2048];
/** Longer than this a take is for the end of the work. */
const SLOW = 1024;
const LEAST_SIDE = 8;

/** Both sides of a take whose long side is `size`. */
function sides(source: SourceView, size: number): string {
  const scale = size / Math.max(source.framed_width, source.framed_height);
  const side = (pixels: number) => Math.max(LEAST_SIDE, Math.round(pixels * scale));
  return `${side(source.framed_width)} \u00d7 ${side(source.framed_height)}`;
}

/** What can be chosen of the controls that are no amounts. */
export function listOptions(control: Exclude<ListControl, "look">, choices: Choices, source: SourceView, sources: SourceView[]): ListOption[] {
  if (control === "size") return SIZES.map((size) => ({ value: String(size), title: sides(source, size), detail: size > SLOW ? "slow; for finals" : "" }));
  if (control === "quality") return QUALITIES;
  if (control === "engine") return choices.engines.map((e) => ({ value: e.name, title: e.title, detail: e.answers ? (e.built_in ? "" : `version ${e.version}`) : "does not answer" }));
  if (control === "sampler") return choices.samplers.map((s) => ({ value: s.name, title: s.title, detail: "" }));
  return sources.map((s) => ({ value: s.id, title: s.name, detail: `${s.width} \u00d7 ${s.height}` }));
}
