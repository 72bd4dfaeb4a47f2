import { useQuery } from "@tanstack/react-query";
import { answered, client } from "./client";
import type { components } from "./types.gen";

export type StepNode = components["schemas"]["NodeView"];

/** A study's tree changes with every take: it is read anew whenever it is opened, and as often as `seen` changes. */
export const useLineage = (studyId: string, of: string | null, begun: string | null, seen: string) =>
  useQuery({
    queryKey: ["lineage", studyId, of, begun, seen],
    queryFn: () => answered(client.GET("/api/studies/{study_id}/lineage", { params: { path: { study_id: studyId }, query: { of, begun } } })),
    placeholderData: (before, query) => (query?.queryKey[1] === studyId ? before : undefined),
    staleTime: 0,
  });

export const useStrip = (studyId: string, of: string | null, seen: string) =>
  useQuery({
    queryKey: ["strip", studyId, of, seen],
    queryFn: () => answered(client.GET("/api/studies/{study_id}/strip", { params: { path: { study_id: studyId }, query: { of: of! } } })),
    enabled: of !== null,
    retry: false,
    staleTime: 0,
  });

/** The way to a picture as a file. */
export const stripFile = (studyId: string, of: string, form: "png" | "pdf" | "txt") => `/api/studies/${studyId}/strip/${form}?of=${of}`;
