import { lazy, Suspense } from "react";
import type { SourceView, StudyView, TakeView } from "../../api/client";
import type { Band } from "../../study/band";
import { useDeskView } from "../../study/view";
import { useBandEdit } from "./useBandEdit";

const FacesPanel = lazy(() => import("../faces/FacesPanel").then((m) => ({ default: m.FacesPanel })));
const FramePanel = lazy(() => import("../frame/FramePanel").then((m) => ({ default: m.FramePanel })));
const MixPanel = lazy(() => import("../mix/MixPanel").then((m) => ({ default: m.MixPanel })));
const RecolourPanel = lazy(() => import("../recolour/RecolourPanel").then((m) => ({ default: m.RecolourPanel })));
const SubjectPanel = lazy(() => import("../subject/SubjectPanel").then((m) => ({ default: m.SubjectPanel })));
const RegionPanel = lazy(() => import("../region/RegionPanel").then((m) => ({ default: m.RegionPanel })));

interface Props {
  study: StudyView;
  source: SourceView;
  band: Band;
  chosen: TakeView[];
  onSource: (id: string) => void;
}

/** What of the source is being changed, in place of the sheet. */
export function Touching(props: Props) {
  return (
    <Suspense>
      <Panel {...props} />
    </Suspense>
  );
}

function Panel({ study, source, band, chosen, onSource }: Props) {
  const { touching, show } = useDeskView();
  const edit = useBandEdit(study.id, band);
  const common = { studyId: study.id, source, onClose: () => show({ touching: null }) };
  const showMade = (id: string) => {
    onSource(id);
    show({ touching: null, live: true });
  };
  if (touching === "frame") return <FramePanel key={source.frame_key} {...common} size={band.recipe.size ?? 512} onSize={(size) => edit.part({ size })} />;
  if (touching === "recolour") return <RecolourPanel {...common} />;
  if (touching === "region") return <RegionPanel key={source.region_key} {...common} />;
  if (touching === "subject") return <SubjectPanel key={source.subject_key} {...common} onCut={showMade} />;
  if (touching === "faces") return <FacesPanel key={source.faces_key} {...common} />;
  return <MixPanel {...common} sources={study.sources} takes={chosen.filter((t) => t.state === "done")} onMade={showMade} />;
}
