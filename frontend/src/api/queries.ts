import { keepPreviousData, useMutation, useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import {
  answered,
  client,
  Refusal,
  type CarryOn,
  type FaceMark,
  type Framing,
  type Kind,
  type LookView,
  type MarkValue,
  type SourceView,
  type StudyView,
  type SweepRequest,
  type SweepView,
  type TakeView,
} from "./client";

/** Milliseconds between two readings of what is left of the disk. */
const DISK_EVERY = 30_000;

export const studyKey = (id: string) => ["study", id] as const;

const CHOICES_EVERY = 20_000;
const CHOICES = {
  queryKey: ["choices"],
  queryFn: () => answered(client.GET("/api/choices")),
  staleTime: Infinity,
  // Engines come, go and fall silent while a window is open.
  refetchInterval: CHOICES_EVERY,
};

export function useChoices() {
  return useQuery(CHOICES);
}

export function useHealth() {
  return useQuery({ queryKey: ["health"], queryFn: () => answered(client.GET("/api/health")), staleTime: 60_000 });
}

/** Room on the disk, and what studies take of it. */
export function useDisk() {
  return useQuery({ queryKey: ["disk"], queryFn: () => answered(client.GET("/api/disk")), refetchInterval: DISK_EVERY });
}

export function useStudy(id: string) {
  return useQuery({
    enabled: id !== "",
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

/** Drafts made in full, as one sheet. */
export function useFinish(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (takes: string[]) => answered(client.POST("/api/sweeps/finish", { body: { takes } })),
    onSuccess: (sweep) => keepSweep(queries, studyId, sweep),
  });
}

/** A sweep leaves its study, or comes back. */
export function useDeleteSweep(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ id, back = false }: { id: string; back?: boolean }) => {
      const params = { path: { sweep_id: id } };
      if (back) await answered(client.POST("/api/sweeps/{sweep_id}/restore", { params }));
      else await answered(client.DELETE("/api/sweeps/{sweep_id}", { params }));
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: studyKey(studyId) }),
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

/** A take becomes the next source of its study, or pictures are mixed into one. */
export function useCarryOn(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (made: CarryOn) =>
      answered(client.POST("/api/studies/{study_id}/sources", { params: { path: { study_id: studyId } }, body: made })),
    onSuccess: (source) => {
      queries.setQueryData<StudyView>(studyKey(studyId), (study) => study && { ...study, sources: [...study.sources, source] });
    },
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

export function useRestoreStudy() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (id: string) => answered(client.POST("/api/studies/{study_id}/restore", { params: { path: { study_id: id } } })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ["studies"] }),
  });
}

export function useFraming(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ sourceId, framing }: { sourceId: string; framing: Framing }) =>
      answered(client.PATCH("/api/sources/{source_id}", { params: { path: { source_id: sourceId } }, body: { framing } })),
    onSuccess: async () => {
      void queries.invalidateQueries({ queryKey: ["plan"] });
      await queries.invalidateQueries({ queryKey: studyKey(studyId) });
    },
  });
}

/** What the source is, which decides the looks that come first. */
export function useKind(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ sourceId, kind }: { sourceId: string; kind: Kind }) =>
      answered(client.PATCH("/api/sources/{source_id}", { params: { path: { source_id: sourceId } }, body: { kind } })),
    onSuccess: () => void queries.invalidateQueries({ queryKey: studyKey(studyId) }),
  });
}

const formOf = (file: File): FormData => {
  const form = new FormData();
  form.append("file", file, file.name);
  return form;
};

/** What leads takes has changed: the study and what a run would do are asked again. */
const planAnew = (queries: QueryClient, studyId: string) => {
  void queries.invalidateQueries({ queryKey: studyKey(studyId) });
  void queries.invalidateQueries({ queryKey: ["plan"] });
};

export function useDepth(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ sourceId, file }: { sourceId: string; file: File | null }) => {
      const params = { path: { source_id: sourceId } };
      if (!file) return answered(client.DELETE("/api/sources/{source_id}/depth", { params }));
      return answered(client.PUT("/api/sources/{source_id}/depth", { params, body: { file: "" }, bodySerializer: () => formOf(file) }));
    },
    onSuccess: () => planAnew(queries, studyId),
  });
}

/** Keep where takes may change a source, or let them change all of it again. */
export function useRegion(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ sourceId, file }: { sourceId: string; file: File | null }) => {
      const params = { path: { source_id: sourceId } };
      if (!file) return answered(client.DELETE("/api/sources/{source_id}/region", { params }));
      return answered(client.PUT("/api/sources/{source_id}/region", { params, body: { file: "" }, bodySerializer: () => formOf(file) }));
    },
    onSuccess: () => planAnew(queries, studyId),
  });
}

export function useSubject(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ sourceId, file }: { sourceId: string; file: File | null }) => {
      const params = { path: { source_id: sourceId } };
      if (!file) return answered(client.DELETE("/api/sources/{source_id}/subject", { params }));
      return answered(client.PUT("/api/sources/{source_id}/subject", { params, body: { file: "" }, bodySerializer: () => formOf(file) }));
    },
    onSuccess: () => planAnew(queries, studyId),
  });
}

/** Cut what a source is about out of it: a further source of the study. */
export function useCutOut(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (sourceId: string) => answered(client.POST("/api/sources/{source_id}/cut", { params: { path: { source_id: sourceId } } })),
    onSuccess: (source) => {
      queries.setQueryData<StudyView>(studyKey(studyId), (study) => study && { ...study, sources: [...study.sources, source] });
    },
  });
}

/** The faces that takes of a source are made with. */
export function useFaces(source: SourceView) {
  return useQuery({
    queryKey: ["faces", source.id, source.frame_key, source.faces_key],
    queryFn: () => answered(client.GET("/api/sources/{source_id}/faces", { params: { path: { source_id: source.id } } })),
    staleTime: Infinity,
  });
}

/** Mark a source's faces, or let them be found again. */
export function useMarkFaces(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ sourceId, faces }: { sourceId: string; faces: FaceMark[] | null }) =>
      answered(client.PUT("/api/sources/{source_id}/faces", { params: { path: { source_id: sourceId } }, body: { faces } })),
    onSuccess: () => planAnew(queries, studyId),
  });
}

/** Where a sweep gives way; asked again with every take that arrives. */
export function useTips(sweepId: string | null, done: number) {
  return useQuery({
    queryKey: ["tips", sweepId, done],
    queryFn: () => answered(client.GET("/api/sweeps/{sweep_id}/tips", { params: { path: { sweep_id: sweepId! } } })),
    enabled: sweepId !== null,
    placeholderData: (before, query) => (query?.queryKey[1] === sweepId ? before : undefined),
    staleTime: Infinity,
  });
}

function useLookChange<Given, Made>(change: (given: Given) => Promise<Made>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["plan"] });
      return queries.invalidateQueries({ queryKey: CHOICES.queryKey });
    },
  });
}

export const useLearnLook = () =>
  useLookChange((files: File[]) => {
    const form = new FormData();
    for (const file of files) form.append("files", file, file.name);
    return answered<LookView>(client.POST("/api/looks", { body: { files: [], title: "" }, bodySerializer: () => form }));
  });

export const useBringInLook = () =>
  useLookChange((file: File) => {
    const form = new FormData();
    form.append("file", file, file.name);
    return answered<LookView>(client.POST("/api/looks/file", { body: { file: "" }, bodySerializer: () => form }));
  });

export const useRenameLook = () =>
  useLookChange(({ name, title }: { name: string; title: string }) =>
    answered(client.PATCH("/api/looks/{name}", { params: { path: { name } }, body: { name: title } })),
  );

export const useForgetLook = () =>
  useLookChange((name: string) => answered(client.DELETE("/api/looks/{name}", { params: { path: { name } } })));

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
