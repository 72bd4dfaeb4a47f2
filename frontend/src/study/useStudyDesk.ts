import { useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { useNavigate } from "react-router";
import { takeSave, type MarkValue, type StudyView } from "../api/client";
import { GROUND, openHand, readStack, stackKey, takeIn } from "../api/hand";
import { useCarryOn, useMark } from "../api/queries";
import { sayFault } from "../common/notices";
import type { KeyMap } from "../common/keys";
import { writeOf } from "../primitives/finish";
import { useBands } from "./band";
import { usePlace } from "./place";

const NONE: string[] = [];

/** What Desk and Bench share: the sweep shown, the take under the hand, what can be done with it. */
export function useStudyDesk(study: StudyView) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const place = usePlace();
  const mark = useMark(study.id);
  const carry = useCarryOn(study.id);
  const next = study.sources.find((s) => s.id === place.source[study.id]) ?? study.sources.at(-1)!;
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
  const chosen = place.chosen[study.id] ?? NONE;
  /** Mark the chosen takes, or the one under the hand; a mark that all of them have is taken away. */
  const toggleMark = (value: MarkValue) => {
    const ids = chosen.length > 1 ? chosen : take ? [take.id] : [];
    const done = ids.filter((id) => sweep?.takes.some((t) => t.id === id && t.state === "done"));
    const all = done.every((id) => marks.get(id)?.value === value);
    for (const id of done) mark.mutate({ takeId: id, value: all ? null : value, note: marks.get(id)?.note ?? "" }, { onError: sayFault });
  };
  const copy = () => take && change(study.id, () => ({ recipe: take.recipe, spans: {} }));
  const save = () => take?.state === "done" && window.location.assign(takeSave(take.id));
  const open = (id = picked) => {
    if (!id) return;
    pick(id);
    void navigate(`/study/${study.id}/bench`);
  };

  const carryOn = (then: () => void) => {
    if (take?.state !== "done" || carry.isPending) return;
    carry.mutate({ takes: [take.id], sources: [] }, {
      onSuccess: (made) => {
        place.showSource(study.id, made.id);
        then();
      },
      onError: sayFault,
    });
  };

  /** The Hand: on the take under the hand, which comes as a layer where its source was made there; else on the next source. */
  const touch = () => {
    const at = take?.state === "done" ? take : undefined;
    const of = study.sources.find((s) => s.id === at?.source_id);
    const opened = at && of?.stack_id ? readStack(of.stack_id).then((view) => takeIn(view.id, view.revision, at.id)) : openHand(study.id, at ? { take: at.id, colour: GROUND } : { source: next.id, colour: GROUND });
    opened
      .then((view) => {
        queries.setQueryData(stackKey(view.id), view);
        void navigate(`/study/${study.id}/hand/${view.id}`);
      })
      .catch(sayFault);
  };

  /** Larger, traced, as files: the chosen takes, or the one under the hand. */
  const finish = () => {
    const ids = chosen.length > 1 ? chosen : take ? [take.id] : [];
    const done = ids.filter((id) => sweep?.takes.some((t) => t.id === id && t.state === "done"));
    if (done.length) void navigate(`/study/${study.id}/finish?of=${writeOf(done.map((id) => ({ kind: "take", id })))}`);
  };

  const takes = useMemo(() => study.sweeps.flatMap((s) => s.takes), [study.sweeps]);
  /** To a take of the study, in whatever sweep it stands: in the one shown where it stands there. */
  const goTo = (id: string) => {
    const stands = sweep?.takes.some((t) => t.id === id) ? undefined : study.sweeps.find((s) => s.takes.some((t) => t.id === id));
    if (stands) place.showSweep(study.id, stands.id);
    pick(id);
  };
  /** How the take under the hand came about, or the study where there is none. */
  const lineage = () => void navigate(`/study/${study.id}/lineage${take?.state === "done" ? `?of=take:${take.id}&begun=take:${take.id}` : ""}`);

  const wall = () => void navigate(`/study/${study.id}/wall`);

  const keys: KeyMap = {
    k: () => toggleMark("keep"),
    m: () => toggleMark("maybe"),
    x: () => toggleMark("drop"),
    s: (event) => (event.shiftKey ? finish() : save()),
    w: (event) => event.shiftKey && wall(),
    c: copy,
    b: () => place.blink(true),
  };
  const keysUp: KeyMap = { b: () => place.blink(false) };
  return { marks, chosen, toggleMark, sweep, take, source, next, carryOn, showSource: (id: string) => place.showSource(study.id, id), picked, blinking: place.blinking, pick, setMark, copy, finish, lineage, wall, takes, goTo, open, touch, keys, keysUp, showSweep: place.showSweep };
}

export type StudyDesk = ReturnType<typeof useStudyDesk>;
