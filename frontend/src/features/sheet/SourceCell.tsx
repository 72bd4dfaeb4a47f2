import { takeSource, type SourceView, type SweepView } from "../../api/client";
import type { Spot } from "../../primitives/spot";
import { Boxed, type Box } from "../../ui/Boxed";
import { HoldOverlay } from "../holds/HoldOverlay";
import { Picture } from "./Picture";

interface Props {
  source: SourceView;
  holds: SweepView["recipe"]["holds"];
  take: string | undefined;
  width: number;
  height: number;
  /** Height of the line of words over it. */
  bar: number;
  region: Box | null;
  spot: Spot | null;
  natural: { width: number; height: number };
}

/** The source on the sheet, as the takes were made from it. */
export function SourceCell({ source, holds, take, width, height, bar, region, spot, natural }: Props) {
  if (!take) return null;
  const src = takeSource(take);
  return (
    <figure className="m-0">
      <figcaption className="flex items-center truncate text-[13px]" style={{ height: bar, width }}>
        source
      </figcaption>
      <div className="relative" data-cell="source" style={{ width, height }}>
        <Picture src={src} full={src} alt={`Source ${source.name}`} natural={natural} width={width} height={height} spot={spot} />
        {region && !spot && <Boxed region={region} />}
        {!spot && <HoldOverlay source={source} holds={holds} />}
      </div>
    </figure>
  );
}
