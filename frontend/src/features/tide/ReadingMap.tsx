import { useState } from "react";
import type { TakeView } from "../../api/client";
import { useChoices } from "../../api/queries";
import { sortsOf, worth, type Arranged, type Sort } from "../../primitives/arrange";
import { between, css, inkOn } from "../../primitives/contrast";
import { toldOf } from "../../primitives/reading";
import { axisName } from "../../study/controls";
import { useLabels } from "../../study/useLabels";

interface Props {
  arranged: Arranged<TakeView>;
  picked: string | undefined;
  onPick: (take: string) => void;
}

/** A cell's ground, from nothing reached to all of it; its figures are white or black, whichever reads better. */
const NONE = [255, 253, 249] as const;
const ALL = [27, 119, 116] as const;

function groundOf(found: number) {
  const ground = between(NONE, ALL, found / 100);
  return { background: css(ground), color: css(inkOn(ground)) };
}

/** Two number axes as a small map of one reading: where between them the take is that has both. */
export function ReadingMap({ arranged, picked, onPick }: Props) {
  const [reading, setReading] = useState<Sort>("both");
  const labelOf = useLabels();
  const kinds = useChoices().data?.readings ?? [];
  const { rows, columns, cells } = arranged;
  if (!rows || !columns) return null;
  const best = Math.max(...cells.map((c) => worth(c.take, reading)));
  return (
    <div className="flex gap-4 px-4 pt-1 pb-2" data-testid="reading-map">
      <div role="radiogroup" aria-label="Reading" className="flex flex-col items-start gap-0.5 text-[13px]">
        {sortsOf(toldOf(kinds, cells.map((c) => c.take))).slice(1).map((r) => (
          <button key={r.value} type="button" role="radio" aria-checked={reading === r.value} onClick={() => setReading(r.value)} className={`rounded px-1.5 ${reading === r.value ? "bg-deep text-white" : "text-faint hover:bg-glow"}`}>
            {r.title.toLowerCase()}
          </button>
        ))}
      </div>
      <div className="max-h-[150px] min-w-0 flex-1 overflow-auto">
        <table className="border-separate border-spacing-px text-[13px]">
          <thead>
            <tr>
              <th className="pr-2 text-right text-xs font-normal text-faint">{axisName(rows.control)}, {axisName(columns.control).toLowerCase()}</th>
              {columns.values.map((v) => <th key={v} scope="col" className="px-1 font-semibold">{labelOf(columns.control, v, columns.values)}</th>)}
            </tr>
          </thead>
          <tbody>
            {rows.values.map((value, r) => (
              <tr key={value}>
                <th scope="row" className="pr-2 text-right font-semibold">{labelOf(rows.control, value, rows.values)}</th>
                {columns.values.map((v, c) => {
                  const take = cells.find((p) => p.row === r && p.column === c)?.take;
                  const found = take ? worth(take, reading) : -1;
                  return (
                    <td key={v} className="p-0">
                      <button
                        type="button"
                        disabled={!take || found < 0}
                        aria-pressed={take?.id === picked}
                        onClick={() => take && onPick(take.id)}
                        className={`h-6 w-14 text-center ${take?.id === picked ? "outline-2 outline-amber" : ""} ${found === best && found >= 0 ? "font-bold underline" : ""}`}
                        style={found >= 0 ? groundOf(found) : { background: "var(--color-rule)" }}
                      >
                        {found >= 0 ? Math.round(found) : "·"}
                      </button>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
