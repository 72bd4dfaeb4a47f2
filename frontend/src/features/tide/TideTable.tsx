import { tipWords } from "../../primitives/tip";
import type { RowTipView } from "../../api/client";
import type { TideRow } from "../../primitives/tide";

/** The chart as a table, for those who do not see it. */
export function TideTable({ rows, strengths, tips }: { rows: TideRow[]; strengths: number[]; tips: RowTipView[] }) {
  return (
    <table className="sr-only">
      <caption>
        Composition kept, by strength. {tips.map((row) => row.tip && `${Object.values(row.values).join(", ")} ${tipWords(row.tip)}`).join(" ")}
      </caption>
      <thead>
        <tr>
          <th scope="col">Row</th>
          {strengths.map((s) => <th key={s} scope="col">{s.toFixed(2)}</th>)}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.name}>
            <th scope="row">{row.name || "Takes"}</th>
            {strengths.map((s) => {
              const found = row.points.find((p) => Math.abs(p.strength - s) < 1e-6);
              return <td key={s}>{found ? Math.round(found.composition) : ""}</td>;
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
