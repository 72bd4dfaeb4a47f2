import { useMemo } from "react";
import { takeThumb, type Choices, type TakeView } from "../../api/client";
import { nearestOthers, type Near } from "../../primitives/nearest";
import { axisName } from "../../study/controls";
import { useLabels } from "../../study/useLabels";

interface Props {
  take: TakeView;
  /** All takes of the study. */
  others: TakeView[];
  kinds: Choices["readings"];
  onGo: (id: string) => void;
}

/** Differences that an eye can see; a smaller one is told as none. */
const TOLD = 0.5;

/** Takes that differ in one control alone, and what that did to the readings: what the control does here. */
export function Nearest({ take, others, kinds, onGo }: Props) {
  const labelOf = useLabels();
  const near = useMemo(() => nearestOthers(take, others), [take, others]);
  if (!near.length) return null;
  const thumbs = new Map(others.map((other) => [other.id, other.thumb]));
  return (
    <section aria-label="Nearest others" className="flex flex-col gap-1">
      <h3 className="text-[13px] font-semibold">One control apart</h3>
      <ul className="m-0 flex list-none flex-col gap-0.5 p-0">
        {near.map((one) => (
          <li key={one.id}>
            <button type="button" onClick={() => onGo(one.id)} title="Go to this take" className="flex w-full items-center gap-2 rounded text-left hover:bg-glow">
              {thumbs.get(one.id) && <img src={takeThumb(thumbs.get(one.id)!)} alt="" className="h-9 w-12 shrink-0 rounded-sm bg-mid object-contain" />}
              <span className="min-w-0 text-[13px] leading-4">
                <span className="block truncate">{axisName(one.control)} <b>{labelOf(one.control, one.value, [one.value, one.here])}</b></span>
                <span className="block truncate text-faint">{told(one, kinds)}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What its readings have more or less of, in whole figures. */
function told(near: Near, kinds: Choices["readings"]): string {
  const said = kinds.flatMap(({ name, title }) => {
    const by = near.by[name];
    return by !== undefined && Math.abs(by) >= TOLD ? [`${title.split(" ")[0]!.toLowerCase()} ${by > 0 ? "+" : "\u2212"}${Math.abs(Math.round(by))}`] : [];
  });
  return said.join(", ") || "reads the same";
}
