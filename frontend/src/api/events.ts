import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { StudyView, TakeView } from "./client";
import { enlargementsKey, type EnlargementView } from "./finish";
import { studyKey, withTake } from "./queries";

type Changed = Partial<TakeView> & { id: string };

/** Keep a study's cached record in step with the server's event stream. */
export function useStudyEvents(studyId: string) {
  const queries = useQueryClient();
  useEffect(() => {
    const stream = new EventSource(`/api/studies/${studyId}/events`);
    let opened = false;
    const afresh = () => {
      void queries.invalidateQueries({ queryKey: studyKey(studyId) });
      void queries.invalidateQueries({ queryKey: enlargementsKey(studyId) });
    };
    const put = (message: MessageEvent<string>) => {
      const { take } = JSON.parse(message.data) as { take: Changed };
      queries.setQueryData<StudyView>(studyKey(studyId), (study) => study && withTake(study, take));
      if (take.state === "done") void queries.invalidateQueries({ queryKey: ["plan"] });
    };
    stream.addEventListener("take", put);
    stream.addEventListener("progress", put);
    // A larger picture tells how far it is; what it has become is read again.
    stream.addEventListener("enlargement", (message: MessageEvent<string>) => {
      const { enlargement, done } = JSON.parse(message.data) as { enlargement: string; done?: number };
      if (done === undefined) return void queries.invalidateQueries({ queryKey: enlargementsKey(studyId) });
      queries.setQueryData<EnlargementView[]>(enlargementsKey(studyId), (rows) => rows?.map((row) => (row.id === enlargement ? { ...row, done } : row)));
    });
    stream.addEventListener("afresh", afresh);
    // After a gap the stream has missed events; the record is read again.
    stream.addEventListener("hello", () => {
      if (opened) afresh();
      opened = true;
    });
    return () => stream.close();
  }, [queries, studyId]);
}
