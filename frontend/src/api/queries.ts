import { keepPreviousData, useMutation, useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import {
  answered,
  client,
  Refusal,
  type MarkValue,
  type StudyView,
  type SweepRequest,
  type SweepView,
  type TakeView,
} from "./client";

export const studyKey = (id: string) => ["study", id] as const;

const CHOICES = {
  queryKey: ["choices"],
  queryFn: () => answered(client.GET("/api/choices")),
  staleTime: Infinity,
};

export function useChoices() {
  return useQuery(CHOICES);
}

export function useHealth() {
  return useQuery({ queryKey: ["health"], queryFn: () => answered(client.GET("/api/health")), staleTime: 60_000 });
}

export function useStudies() {
  return useQuery({ queryKey: ["studies"], queryFn: () => answered(client.GET("/api/studies")) });
}

export function useStudy(id: string) {
  return useQuery({
    queryKey: studyKey(id),
    queryFn: () => answered(client.GET("/api/studies/{study_id}", { params: { path: { study_id: id } } })),
  });
}

export function usePlan(request: SweepRequest | null) {
  return useQuery({
    queryKey: ["plan", request],
    queryFn: () => answered(client.POST("/api/plans", { body: request! })),
    enabled: request !== null,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 0,
  });
}

export function useBeginStudy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (file: File) => {
      // Refused here, since a server that refuses in the middle of an upload can't be heard by a browser.
      const { file_limit: limit } = await queries.ensureQueryData(CHOICES);
      if (file.size > limit) {
        throw new Refusal(
          `The file has ${Math.round(file.size / 1e6)} MB; at most ${Math.floor(limit / 1024 ** 2)} MB can be brought in.`,
        );
      }
      const form = new FormData();
      form.append("file", file, file.name || "pasted.png");
      return answered<StudyView>(
        client.POST("/api/studies", { body: { file: "" }, bodySerializer: () => form }),
      );
    },
    onSuccess: (study) => {
      queries.setQueryData(studyKey(study.id), study);
      void queries.invalidateQueries({ queryKey: ["studies"] });
    },
  });
}

export function useRunSweep(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: SweepRequest) => answered(client.POST("/api/sweeps", { body })),
    onSuccess: (sweep) => {
      keepSweep(queries, studyId, sweep);
      void queries.invalidateQueries({ queryKey: ["plan"] });
    },
  });
}

export function useStopSweep(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      answered(client.POST("/api/sweeps/{sweep_id}/stop", { params: { path: { sweep_id: id } } })),
    onSuccess: (sweep) => keepSweep(queries, studyId, sweep),
  });
}

/** Marks show at once and go back if the server refuses. */
export function useMark(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (change: { takeId: string; value: MarkValue | null; note: string }) =>
      answered(
        client.PUT("/api/studies/{study_id}/marks/{take_id}", {
          params: { path: { study_id: studyId, take_id: change.takeId } },
          body: { value: change.value, note: change.note },
        }),
      ),
    onMutate: ({ takeId, value, note }) => {
      const before = queries.getQueryData<StudyView>(studyKey(studyId));
      queries.setQueryData<StudyView>(studyKey(studyId), (study) =>
        study && {
          ...study,
          marks: [...study.marks.filter((m) => m.take_id !== takeId), { take_id: takeId, value, note }],
        },
      );
      return { before };
    },
    onError: (_error, _change, context) => queries.setQueryData(studyKey(studyId), context?.before),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["studies"] }),
  });
}

export function useRename(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (name: string) =>
      answered(
        client.PATCH("/api/studies/{study_id}", { params: { path: { study_id: studyId } }, body: { name } }),
      ),
    onSuccess: (study) => {
      queries.setQueryData(studyKey(studyId), study);
      void queries.invalidateQueries({ queryKey: ["studies"] });
    },
  });
}

export function useDeleteStudy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      answered(client.DELETE("/api/studies/{study_id}", { params: { path: { study_id: id } } })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["studies"] }),
  });
}

export function useGround(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ sourceId, ground }: { sourceId: string; ground: string }) =>
      answered(
        client.PATCH("/api/sources/{source_id}", {
          params: { path: { source_id: sourceId } },
          body: { framing: { ground } },
        }),
      ),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: studyKey(studyId) });
      void queries.invalidateQueries({ queryKey: ["plan"] });
    },
  });
}

function keepSweep(queries: QueryClient, studyId: string, sweep: SweepView) {
  queries.setQueryData<StudyView>(studyKey(studyId), (study) =>
    study && { ...study, sweeps: [...study.sweeps.filter((s) => s.id !== sweep.id), sweep] },
  );
}

/** Put a changed take into every sweep of a study that holds it. */
export function withTake(study: StudyView, take: Partial<TakeView> & { id: string }): StudyView {
  return {
    ...study,
    sweeps: study.sweeps.map((sweep) =>
      sweep.takes.some((t) => t.id === take.id)
        ? { ...sweep, takes: sweep.takes.map((t) => (t.id === take.id ? { ...t, ...take } : t)) }
        : sweep,
    ),
  };
}
