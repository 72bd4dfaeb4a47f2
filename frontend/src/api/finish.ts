import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Of } from "../primitives/finish";
import { answered, client } from "./client";
import type { components } from "./types.gen";

export type FinishChoices = components["schemas"]["FinishChoices"];
export type EnlargementView = components["schemas"]["EnlargementView"];
export type EnlargeAsked = components["schemas"]["EnlargeAsked"];
export type TraceAsked = components["schemas"]["TraceAsked"];
export type TraceView = components["schemas"]["TraceView"];
export type ExportAsked = components["schemas"]["ExportAsked"];
export type SheetWish = Required<FinishChoices["sheet"]>;
export interface SheetAsked {
  of: Of[];
  form: "pdf" | "png";
  wish: SheetWish;
}
export type Wish = components["schemas"]["Wish"];

export const enlargedImage = (id: string) => `/api/enlargements/${id}/image`;
export const enlargedPreview = (id: string) => `/api/enlargements/${id}/preview`;
/** A picture as a file with what is usual, for a drag out of the window. */
export const fileOf = (of: Of) => `/api/exports/${of.kind}/${of.id}`;
export const enlargementsKey = (studyId: string) => ["enlargements", studyId] as const;

export const useFinishChoices = () => useQuery({ queryKey: ["finish"], queryFn: () => answered(client.GET("/api/finish")), staleTime: Infinity });

export const useEnlargements = (studyId: string) =>
  useQuery({ queryKey: enlargementsKey(studyId), queryFn: () => answered(client.GET("/api/studies/{study_id}/enlargements", { params: { path: { study_id: studyId } } })) });

/** Make pictures larger; what is there already comes back at once. */
export function useEnlarge(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: EnlargeAsked) => answered(client.POST("/api/studies/{study_id}/enlargements", { params: { path: { study_id: studyId } }, body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: enlargementsKey(studyId) }),
  });
}

/** Stop what is under way, or let go of what is done. */
export function useEnd(studyId: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ id, state }: EnlargementView): Promise<void> => {
      const params = { path: { enlargement_id: id } };
      if (state === "queued" || state === "running") await answered(client.POST("/api/enlargements/{enlargement_id}/stop", { params }));
      else await answered(client.DELETE("/api/enlargements/{enlargement_id}", { params }));
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: enlargementsKey(studyId) }),
  });
}

export const useTrace = (asked: TraceAsked | null) =>
  useQuery({ queryKey: ["trace", asked], queryFn: () => answered(client.POST("/api/traces", { body: asked! })), enabled: asked !== null, staleTime: Infinity, retry: false, placeholderData: keepPreviousData });

export const useExportPreview = (asked: ExportAsked | null) =>
  useQuery({ queryKey: ["export", asked], queryFn: () => answered(client.POST("/api/exports/preview", { body: asked! })), enabled: asked !== null, retry: false, placeholderData: keepPreviousData });
