import { useMatch } from "react-router";
import { useChoices, useStudy } from "../api/queries";
import { versionLabels } from "../primitives/phrases";
import { labelOf } from "./controls";

/** Values of axes as labels: looks by their titles, versions of a prompt by what only they say. */
export function useLabels(): (control: string, value: number | string, all?: (number | string)[]) => string {
  const choices = useChoices().data;
  const looks = choices?.looks;
  const others = choices?.engines.flatMap((engine) => engine.looks);
  const sources = useStudy(useMatch("/study/:id/*")?.params.id ?? "").data?.sources;
  return (control, value, all) => {
    if (control === "look") {
      const known = looks?.find((look) => look.name === value)?.title ?? others?.find((look) => look.name === value)?.title;
      return known || labelOf(control, value);
    }
    if (control === "engine") return choices?.engines.find((engine) => engine.name === value)?.title ?? String(value);
    if (control === "source") return sources?.find((source) => source.id === value)?.name ?? "a source";
    if (control === "sampler") return [...(choices?.samplers ?? []), ...(choices?.engines.flatMap((engine) => engine.samplers) ?? [])].find((s) => s.name === value)?.title ?? String(value);
    if (control === "prompt" && all) return versionLabels(all.map(String))[all.indexOf(value)]!;
    return labelOf(control, value);
  };
}
