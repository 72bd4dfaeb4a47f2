import { lazy, Suspense } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { SourceView, StudyView } from "../../api/client";
import { useBands } from "../../study/band";
import { usePlace } from "../../study/place";
import { TOUCHED, type Touched } from "../../study/touched";

const FacesPanel = lazy(() => import("../faces/FacesPanel").then((m) => ({ default: m.FacesPanel })));
const FramePanel = lazy(() => import("../frame/FramePanel").then((m) => ({ default: m.FramePanel })));
const MixPanel = lazy(() => import("../mix/MixPanel").then((m) => ({ default: m.MixPanel })));
const RecolourPanel = lazy(() => import("../recolour/RecolourPanel").then((m) => ({ default: m.RecolourPanel })));
const SubjectPanel = lazy(() => import("../subject/SubjectPanel").then((m) => ({ default: m.SubjectPanel })));
const RegionPanel = lazy(() => import("../region/RegionPanel").then((m) => ({ default: m.RegionPanel })));

const TITLES: Record<Touched, string> = { frame: "Frame", recolour: "Recolour", region: "Region", faces: "Faces", subject: "Subject", mix: "Mix" };
const NONE: string[] = [];

/** What is done to the source as a whole, or to its layers: one row over the Hand. */
export function Rows({ studyId, doing }: { studyId: string; doing: Touched | null }) {
  const [search] = useSearchParams();
  const live = search.has("live") ? "&live" : "";
  const tab = (on: boolean) => `flex h-7 items-center rounded px-2.5 font-semibold no-underline ${on ? "bg-glow text-ink" : "text-faint hover:text-ink"}`;
  return (
    <nav aria-label="What the Hand does" className="flex h-9 shrink-0 items-center gap-1 border-b border-rule bg-paper px-2">
      <Link to={`/study/${studyId}/hand`} className={tab(doing === null)}>Layers</Link>
      <span className="mx-1 h-4 w-px bg-rule" />
      {TOUCHED.map((what) => (
        <Link key={what} to={`/study/${studyId}/hand?do=${what}${live}`} className={tab(doing === what)}>{TITLES[what]}</Link>
      ))}
    </nav>
  );
}

interface Props {
  study: StudyView;
  source: SourceView;
  doing: Touched;
}

/** One thing that is done to the source. */
export function SourcePanels(props: Props) {
  return (
    <Suspense>
      <Panel {...props} />
    </Suspense>
  );
}

function Panel({ study, source, doing }: Props) {
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const showSource = usePlace((s) => s.showSource);
  const chosen = usePlace((s) => s.chosen[study.id]) ?? NONE;
  const { bands, change } = useBands();
  const size = bands[study.id]?.recipe.size ?? source.begin.size ?? 512;
  const back = () => void navigate(`/study/${study.id}${search.has("live") ? "?live" : ""}`);
  const common = { studyId: study.id, source, onClose: back };
  const showMade = (id: string) => {
    showSource(study.id, id);
    void navigate(`/study/${study.id}?live`);
  };
  if (doing === "frame") return <FramePanel key={source.frame_key} {...common} size={size} onSize={(next) => change(study.id, (band) => ({ ...band, recipe: { ...band.recipe, size: next } }))} />;
  if (doing === "recolour") return <RecolourPanel {...common} />;
  if (doing === "region") return <RegionPanel key={source.region_key} {...common} />;
  if (doing === "subject") return <SubjectPanel key={source.subject_key} {...common} onCut={showMade} />;
  if (doing === "faces") return <FacesPanel key={source.faces_key} {...common} />;
  const takes = study.sweeps.flatMap((sweep) => sweep.takes).filter((take) => chosen.includes(take.id) && take.state === "done");
  return <MixPanel {...common} sources={study.sources} takes={takes} onMade={showMade} />;
}
