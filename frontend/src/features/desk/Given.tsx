import type { SourceView } from "../../api/client";
import { DepthGuide } from "./DepthGuide";
import type { Touched } from "../../study/touched";

interface Props {
  studyId: string;
  source: SourceView;
  onDepth: () => void;
  onTouch: (what: Touched) => void;
}

/** What leads takes beside the picture: depth, a region, marked faces, the subject; and other pictures to mix in. */
export function Given({ studyId, source, onDepth, onTouch }: Props) {
  const links = [
    { what: "region", given: source.region_key !== null, words: source.region_key ? "in a region" : "region", title: source.region_key ? "Takes change a part of the picture only; paint it anew (P)" : "Paint where takes may change the picture (P)" },
    { what: "faces", given: source.faces_key !== null, words: source.faces_key ? "faces marked" : "faces", title: source.faces_key ? "Takes are made with the faces that you marked; mark them anew (H)" : "See which faces were found, and mark them by hand (H)" },
    { what: "subject", given: source.subject_key !== null, words: source.subject_key ? "subject mended" : "subject", title: source.subject_key ? "Takes are made with the subject that you mended; mend it anew (Shift P)" : "See what the picture is about, paint it in or out, cut it out (Shift P)" },
    { what: "mix", given: false, words: "mix", title: "Mix two or three pictures into a new source (D)" },
  ] as const;
  return (
    <div className="mt-0.5 flex flex-wrap gap-x-2.5">
      <DepthGuide studyId={studyId} source={source} onGiven={onDepth} />
      {links.map(({ what, given, words, title }) => (
        <button key={what} type="button" title={title} onClick={() => onTouch(what)} className={`rounded text-left text-xs underline-offset-2 hover:underline ${given ? "font-semibold text-teal" : "text-amber"}`}>
          {words}
        </button>
      ))}
    </div>
  );
}
