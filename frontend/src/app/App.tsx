import { useEffect, useState } from "react";
import { Navigate, Route, Routes, useNavigate, useParams } from "react-router";
import { useStudyEvents } from "../api/events";
import { useBeginStudy, useChoices, useStudy } from "../api/queries";
import { Bench } from "../features/bench/Bench";
import { Desk } from "../features/desk/Desk";
import { Shelf } from "../features/shelf/Shelf";
import { Help } from "./Help";
import { useKeys } from "./keys";
import { NoticeList, sayFault } from "./notices";
import { SURROUNDS, usePreferences } from "./preferences";
import { TopBar } from "./TopBar";
import { useArrivals } from "./useArrivals";

export function App() {
  const [help, setHelp] = useState(false);
  const begin = useBeginStudy();
  const navigate = useNavigate();
  const { surround, setSurround } = usePreferences();

  const bring = async (files: File[]) => {
    let first: string | null = null;
    for (const file of files) {
      try {
        const study = await begin.mutateAsync(file);
        first ??= study.id;
      } catch (error) {
        sayFault(error instanceof Error ? new Error(`${file.name || "The picture"}: ${error.message}`) : error);
      }
    }
    if (first) void navigate(`/study/${first}`);
  };
  const over = useArrivals((files) => void bring(files));

  useKeys({
    "?": () => setHelp((shown) => !shown),
    g: () => setSurround(SURROUNDS[(SURROUNDS.indexOf(surround) + 1) % SURROUNDS.length]!),
  });

  const help_ = () => setHelp((shown) => !shown);
  return (
    <div className="flex h-full flex-col">
      <Routes>
        <Route
          index
          element={
            <>
              <TopBar onHelp={help_} />
              <Shelf onFiles={(files) => void bring(files)} />
            </>
          }
        />
        <Route path="study/:id" element={<StudyPlace place="desk" onHelp={help_} />} />
        <Route path="study/:id/bench" element={<StudyPlace place="bench" onHelp={help_} />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
      {help && <Help onClose={() => setHelp(false)} />}
      {begin.isPending && <Veil>Bringing the picture in…</Veil>}
      {over && <Veil>Drop to begin a study</Veil>}
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

function StudyPlace({ place, onHelp }: { place: "desk" | "bench"; onHelp: () => void }) {
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
      <TopBar study={study.data} onHelp={onHelp} />
      {fault && (
        <p role="alert" className="p-8 text-fault">
          {fault.message}
        </p>
      )}
      {!fault && (!study.data || !choices.data) && <p className="p-8 text-faint">Opening the study…</p>}
      {!fault && study.data && choices.data &&
        (place === "desk" ? <Desk study={study.data} choices={choices.data} key={id} /> : <Bench study={study.data} choices={choices.data} key={id} />)}
    </>
  );
}
