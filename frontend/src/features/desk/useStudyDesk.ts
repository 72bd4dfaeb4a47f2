import { useMemo } from "react";
import { useNavigate } from "react-router";
import { takeSave, type MarkValue, type StudyView } from "../../api/client";
import { useMark } from "../../api/queries";
import { sayFault } from "../../app/notices";
import type { KeyMap } from "../../app/keys";
import { useBands } from "./band";
import { usePlace } from "./place";

/** What Desk and Bench share: the sweep shown, the take under the hand, what can be done with it. */
export function useStudyDesk(study: StudyView) {
  const navigate = useNavigate();
  const place = usePlace();
  const mark = useMark(study.id);
  const change = useBands((s) => s.change);
  const marks = useMemo(() => new Map(study.marks.map((m) => [m.take_id, m])), [study.marks]);
  const sweep = study.sweeps.find((s) => s.id === place.sweep[study.id]) ?? study.sweeps.at(-1);
  const picked = place.take[study.id];
  const take = sweep?.takes.find((t) => t.id === picked);
  const source = study.sources.find((s) => s.id === sweep?.source_id) ?? study.sources[0];

  const pick = (id: string | undefined) => place.pick(study.id, id);
  const setMark = (value: MarkValue | null, note: string) => {
    if (take) mark.mutate({ takeId: take.id, value, note }, { onError: sayFault });
  };
  const toggleMark = (value: MarkValue) => {
    const now = take && marks.get(take.id);
    if (take?.state === "done") setMark(now?.value === value ? null : value, now?.note ?? "");
  };
  const copy = () => take && change(study.id, () => ({ recipe: take.recipe, spans: {} }));
  const save = () => take?.state === "done" && window.location.assign(takeSave(take.id));
  const open = (id = picked) => {
    if (!id) return;
    pick(id);
    void navigate(`/study/${study.id}/bench`);
  };

  const keys: KeyMap = {
    k: () => toggleMark("keep"),
    m: () => toggleMark("maybe"),
    x: () => toggleMark("drop"),
    s: save,
    c: copy,
    b: () => place.blink(true),
  };
  const keysUp: KeyMap = { b: () => place.blink(false) };
  return { marks, sweep, take, source, picked, blinking: place.blinking, pick, setMark, copy, open, keys, keysUp, showSweep: place.showSweep };
}
