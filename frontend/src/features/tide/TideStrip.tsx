import { takePreview, takeThumb, type SweepView } from "../../api/client";
import { picturesAlong, type TideRow } from "../../primitives/tide";
import { usePointed } from "../../study/pointed";

interface Props {
  sweep: SweepView;
  row: TideRow;
  place: (strength: number) => number;
  picked: string | undefined;
  onPick: (take: string) => void;
}

const WIDEST = 54;
const NARROWEST = 40;
const GAP = 2;

/** The takes of a row as small pictures at their strengths, where the sheet wraps them. */
export function TideStrip({ sweep, row, place, picked, onPick }: Props) {
  const { take: pointed, point } = usePointed();
  const takes = row.points.flatMap((p) => {
    const take = sweep.takes.find((t) => t.id === p.take);
    return take ? [{ take, at: place(p.strength), strength: p.strength }] : [];
  });
  const { width: long, shown } = picturesAlong(takes.map((t) => t.at), WIDEST, NARROWEST, GAP);
  return (
    <div className="relative" style={{ height: heightOf(takes[0]?.take, WIDEST) + 17 }} data-testid="strip">
      {takes.map(({ take, at, strength }, i) => {
        if (!shown[i]) return null;
        const width = take.width >= take.height ? long : Math.round((long * take.width) / take.height);
        const on = picked === take.id || pointed === take.id;
        return (
          <button
            key={take.id}
            type="button"
            tabIndex={-1}
            aria-hidden
            title={`Strength ${strength.toFixed(2)}`}
            onClick={() => onPick(take.id)}
            onPointerEnter={() => point(take.id)}
            onPointerLeave={() => point(null)}
            className="absolute top-0 block text-center text-[11px] leading-[14px] text-faint"
            style={{ left: at - long / 2, width: long }}
          >
            <span className={on ? "font-semibold text-amber" : ""}>{strength.toFixed(2)}</span>
            <img src={take.thumb ? takeThumb(take.thumb) : takePreview(take.id)} alt="" width={width} height={heightOf(take, long)} draggable={false} className={`mx-auto block ${on ? "outline-2 outline-amber" : ""}`} />
          </button>
        );
      })}
    </div>
  );
}

/** Height of a take whose long side is `long`. */
const heightOf = (take: { width: number; height: number } | undefined, long: number): number =>
  take ? Math.round(take.width >= take.height ? (long * take.height) / take.width : long) : 0;
