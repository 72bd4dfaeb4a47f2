import { keepPreviousData, useInfiniteQuery, useMutation, useQueryClient } from "@tanstack/react-query";
import { answered, client, Refusal, UNREACHABLE, type StudyView } from "./client";
import { studyKey } from "./queries";
import type { paths } from "./types.gen";

export type ShelfAsked = NonNullable<paths["/api/shelf"]["get"]["parameters"]["query"]>;

/** Studies on one page of the shelf, and milliseconds between two readings of a shelf that fills in. */
const PAGE = 60;
const FILLING = 3_000;
const STUDY_FILE = "application/zip";

/** The shelf as it is asked for, page after page; while takes are rendered (`filling`) it is read again and again. */
export const useShelf = (asked: ShelfAsked, filling: boolean) =>
  useInfiniteQuery({
    queryKey: ["studies", asked],
    queryFn: ({ pageParam }) => answered(client.GET("/api/shelf", { params: { query: { ...asked, offset: pageParam, limit: PAGE } } })),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => {
      const there = pages.reduce((sum, page) => sum + page.cards.length, 0);
      return there < last.total && last.cards.length ? there : undefined;
    },
    placeholderData: keepPreviousData,
    refetchInterval: filling ? FILLING : false,
  });

function useStudyAct<Given>(act: (given: Given) => Promise<StudyView>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: act,
    onSuccess: (study) => {
      queries.setQueryData(studyKey(study.id), study);
      return queries.invalidateQueries({ queryKey: ["studies"] });
    },
  });
}

const path = (id: string) => ({ params: { path: { study_id: id } } });

export const useChangeStudy = () => useStudyAct(({ id, ...body }: { id: string; name?: string; archived?: boolean }) => answered(client.PATCH("/api/studies/{study_id}", { ...path(id), body })));

export const useCopyStudy = () => useStudyAct((id: string) => answered(client.POST("/api/studies/{study_id}/copy", path(id))));

/** A study that was saved as a file; sent as it is, since it may have gigabytes. */
export const useBringStudy = () =>
  useStudyAct(async (file: File): Promise<StudyView> => {
    let answer: Response;
    try {
      answer = await fetch("/api/studies/file", { method: "POST", body: file, headers: { "Content-Type": STUDY_FILE } });
    } catch {
      throw new Refusal(UNREACHABLE);
    }
    const said = (await answer.json().catch(() => ({}))) as StudyView & { message?: string };
    if (!answer.ok) throw new Refusal(said.message ?? UNREACHABLE);
    return said;
  });

/** A study as one file, with the pictures of all its takes, or of those that are kept. */
export const studyFile = (id: string, takes: "all" | "kept") => `/api/studies/${id}/file?takes=${takes}`;
export const isStudyFile = (file: File) => file.name.toLowerCase().endsWith(".zip") || file.type === STUDY_FILE;
