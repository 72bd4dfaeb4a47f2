import { lazy, Suspense, useEffect, useState } from "react";
import { Navigate, Route, Routes, useMatch, useParams } from "react-router";
import { useStudyEvents } from "../api/events";
import { useChoices, useStudy } from "../api/queries";
import { Shelf } from "../features/shelf/Shelf";
import { useKeys } from "../common/keys";
import { NoticeList } from "../common/notices";
import { SURROUNDS, usePreferences } from "../common/preferences";
import { TopBar } from "./TopBar";
import { useArrivals } from "./useArrivals";
import { useBringIn } from "./useBringIn";

/** Loaded when they are first shown; those of a study as soon as the first page has nothing else to do. */
const desk = () => import("../features/desk/Desk").then((m) => ({ default: m.Desk }));
const bench = () => import("../features/bench/Bench").then((m) => ({ default: m.Bench }));
const hand = () => import("../features/hand/HandPlace").then((m) => ({ default: m.HandPlace }));
const Desk = lazy(desk);
const HandPlace = lazy(hand);
const FinishPlace = lazy(() => import("../features/finish/FinishPlace").then((m) => ({ default: m.FinishPlace })));
const LineagePlace = lazy(() => import("../features/lineage/LineagePlace").then((m) => ({ default: m.LineagePlace })));
const WallPlace = lazy(() => import("../features/wall/WallPlace").then((m) => ({ default: m.WallPlace })));
const Bench = lazy(bench);
const MachinesPlace = lazy(() => import("../features/machines/MachinesPlace").then((m) => ({ default: m.MachinesPlace })));
const QueuePanel = lazy(() => import("../features/queue/QueuePanel").then((m) => ({ default: m.QueuePanel })));
const BlockInPanel = lazy(() => import("../features/blockin/BlockInPanel").then((m) => ({ default: m.BlockInPanel })));
const SavedPicture = lazy(() => import("./SavedPicture").then((m) => ({ default: m.SavedPicture })));
const Help = lazy(() => import("./Help").then((m) => ({ default: m.Help })));

function usePreloadedPlaces() {
  useEffect(() => {
    const idle = window.requestIdleCallback(() => void Promise.all([desk(), bench()]));
    return () => window.cancelIdleCallback(idle);
  }, []);
}

export function App() {
  const [help, setHelp] = useState(false);
  const [lineUp, setLineUp] = useState(false);
  const { surround, setSurround, theme, setTheme } = usePreferences();
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);

  usePreloadedPlaces();
  const { bring, coming, saved, asSource, forget } = useBringIn();
  const choices = useChoices();
  const inStudy = useMatch("/study/:id/*")?.params.id;
  const over = useArrivals((files) => void bring(files, inStudy));
  const [blocking, setBlocking] = useState(false);

  useKeys({
    q: () => setLineUp((shown) => !shown),
    "?": () => setHelp((shown) => !shown),
    g: (event) => (event.shiftKey ? setTheme(theme === "dark" ? "light" : "dark") : setSurround(SURROUNDS[(SURROUNDS.indexOf(surround) + 1) % SURROUNDS.length]!)),
  });

  const bar = { onHelp: () => setHelp((shown) => !shown), onQueue: () => setLineUp((shown) => !shown) };
  return (
    <div className="flex h-full flex-col">
      <Routes>
        <Route
          index
          element={
            <>
              <TopBar {...bar} />
              <Shelf onFiles={(files) => void bring(files)} onBlockIn={() => setBlocking(true)} />
            </>
          }
        />
        <Route path="study/:id" element={<StudyPlace place="desk" {...bar} />} />
        <Route path="study/:id/bench" element={<StudyPlace place="bench" {...bar} />} />
        <Route path="study/:id/finish" element={<StudyPlace place="finish" {...bar} />} />
        <Route path="wall" element={<><TopBar {...bar} /><Suspense>{choices.data && <WallPlace studyId={null} choices={choices.data} />}</Suspense></>} />
        <Route path="machines" element={<><TopBar {...bar} /><Suspense><MachinesPlace /></Suspense></>} />
        <Route path="study/:id/wall" element={<StudyPlace place="wall" {...bar} />} />
        <Route path="study/:id/lineage" element={<StudyPlace place="lineage" {...bar} />} />
        <Route path="study/:id/hand/:stack?" element={<StudyPlace place="hand" {...bar} />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
      <Suspense>
        {lineUp && <QueuePanel onClose={() => setLineUp(false)} />}
        {help && <Help onClose={() => setHelp(false)} />}
        {saved && <SavedPicture name={saved.file.name} saved={saved.view} choices={choices.data} onSource={() => void asSource(false)} onSettings={() => void asSource(true)} onClose={forget} />}
        {blocking && (
          <BlockInPanel
            busy={coming !== null}
            onClose={() => setBlocking(false)}
            onFile={(file) => {
              void bring([file]);
              setBlocking(false);
            }}
          />
        )}
      </Suspense>
      {coming && <Veil>{coming.of > 1 ? `Bringing in ${coming.at} of ${coming.of}: ${coming.name}` : "Bringing the picture in…"}</Veil>}
      {over !== null && <Veil>{over || (inStudy ? "Drop: a further source of this study" : "Drop to begin a study")}</Veil>}
      <NoticeList />
    </div>
  );
}

function Veil({ children }: { children: string }) {
  return (
    <div className="pointer-events-none fixed inset-0 z-50 flex items-center justify-center bg-deep/60">
      <p className="rounded-xl border-2 border-dashed border-lamp bg-deep px-10 py-6 text-xl font-semibold text-white">{children}</p>
    </div>
  );
}

function StudyPlace({ place, ...bar }: { place: "desk" | "bench" | "hand" | "finish" | "lineage" | "wall"; onHelp: () => void; onQueue: () => void }) {
  const id = useParams().id!;
  const study = useStudy(id);
  const choices = useChoices();
  useStudyEvents(id);
  const name = study.data?.name;
  useEffect(() => {
    document.title = name ? `${name} – Warm Tide` : "Warm Tide";
    return () => {
      document.title = "Warm Tide";
    };
  }, [name]);
  const fault = study.error ?? choices.error;
  return (
    <>
      <TopBar study={study.data} {...bar} />
      {fault && (
        <p role="alert" className="p-8 text-fault">
          {fault.message}
        </p>
      )}
      {!fault && (!study.data || !choices.data) && <p className="p-8 text-faint">Opening the study…</p>}
      {!fault && study.data && choices.data && (
        <Suspense fallback={<p className="p-8 text-faint">Opening the study…</p>}>
          {place === "desk" && <Desk study={study.data} choices={choices.data} key={id} />}
          {place === "bench" && <Bench study={study.data} choices={choices.data} key={id} />}
          {place === "finish" && <FinishPlace study={study.data} choices={choices.data} key={id} />}
          {place === "lineage" && <LineagePlace study={study.data} key={id} />}
          {place === "wall" && <WallPlace studyId={id} choices={choices.data} key={id} />}
          {place === "hand" && <HandPlace study={study.data} key={id} />}
        </Suspense>
      )}
    </>
  );
}
