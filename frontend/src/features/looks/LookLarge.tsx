import { sourceImage, type LookView, type Recipe, type SourceView } from "../../api/client";
import { bandOfLook } from "../../primitives/looks";
import { useShots } from "../live/useShots";

interface Props {
  look: LookView;
  source: SourceView;
  preview: string | null | undefined;
  recipe: Recipe;
  /** Over the lower half of the looks, or over the upper one. */
  below: boolean;
}

const HEIGHT = 210;
const MOST_WIDTH = 330;
const SMALL = 112;

/** The look under the hand, large beside the source, and its usual band of strength as three small drafts. */
export function LookLarge({ look, source, preview, recipe, below }: Props) {
  const aspect = source.framed_width / source.framed_height;
  const width = Math.round(Math.min(HEIGHT * aspect, MOST_WIDTH));
  const height = Math.round(width / aspect);
  const strengths = bandOfLook(look.strengths as [number, number]);
  const shots = useShots(source.id, strengths.map((strength) => ({ ...recipe, look: look.name, second_look: null, second_share: 0, strength })));
  const small = { width: aspect >= 1 ? SMALL : Math.round(SMALL * aspect), height: aspect >= 1 ? Math.round(SMALL / aspect) : SMALL };
  return (
    <div data-testid="look-large" className={`pointer-events-none absolute left-1/2 z-10 flex -translate-x-1/2 gap-3 rounded-lg border border-rule bg-paper p-3 shadow-2xl ${below ? "bottom-12" : "top-12"}`}>
      <figure className="m-0 shrink-0">
        <img src={sourceImage(source, 512)} alt="Source" width={width} height={height} className="block max-w-none bg-mid" draggable={false} />
        <figcaption className="text-xs text-faint">source</figcaption>
      </figure>
      <figure className="m-0 shrink-0">
        <div className="bg-mid" style={{ width, height }}>{preview && <img src={preview} alt={look.title} width={width} height={height} className="block max-w-none" draggable={false} />}</div>
        <figcaption className="text-xs text-faint">{look.title}</figcaption>
      </figure>
      <div className="flex shrink-0 flex-col gap-2" style={{ width: 3 * small.width + 16 }}>
        <p className="m-0 text-[13px] leading-snug">
          <span className="font-semibold">{look.title}.</span> {look.description.charAt(0).toUpperCase() + look.description.slice(1).replace(/\.$/, "")}.{" "}
          {!look.kinds.includes(source.kind) && <span className="text-fault">Made for {look.kinds.join(", ")}.</span>}
        </p>
        <div className="mt-auto flex gap-2">
          {strengths.map((strength, i) => (
            <figure key={strength} className="m-0 text-center">
              <div className="bg-mid" style={small}>{shots[i] && <img src={shots[i]} alt={`${look.title} at strength ${strength.toFixed(2)}`} {...small} className="block" draggable={false} />}</div>
              <figcaption className="text-xs">{strength.toFixed(2)}</figcaption>
            </figure>
          ))}
        </div>
        <p className="m-0 text-xs text-faint">its usual strength, {strengths[0]!.toFixed(2)} to {strengths[2]!.toFixed(2)}</p>
      </div>
    </div>
  );
}
