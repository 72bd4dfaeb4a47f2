import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { Of } from "../primitives/finish";
import { answered, client } from "./client";
import type { components } from "./types.gen";

export type WallView = components["schemas"]["WallView"];
export type Hung = components["schemas"]["HungView"];
/** How it hangs, whole as the server keeps it. */
export type WallBody = Required<components["schemas"]["WallBody"]>;
/** A wall to take away, in the order given. */
export interface WallAsked {
  of: Of[];
  sizes: number[];
  captions: string[];
  form: "pdf" | "png";
  wish: { title: string; paper: "a3" | "a4"; landscape: boolean };
}

const path = (study: string) => ({ params: { path: { study_id: study } } });
const keyOf = (study: string | null) => ["wall", study ?? "all"] as const;

/** What was kept in a study, or with null in all of them. */
export const useWall = (study: string | null) =>
  useQuery({
    queryKey: keyOf(study),
    queryFn: () => (study === null ? answered<WallView>(client.GET("/api/wall")) : answered<WallView>(client.GET("/api/studies/{study_id}/wall", path(study)))),
    staleTime: 0,
  });

/** Keep how it hangs; it is shown so at once. */
export function useHang(study: string | null) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: WallBody) => (study === null ? answered<WallView>(client.PUT("/api/wall", { body })) : answered<WallView>(client.PUT("/api/studies/{study_id}/wall", { ...path(study), body }))),
    onMutate: (body) => queries.setQueryData<WallView>(keyOf(study), (now) => now && { ...now, body }),
    onError: () => queries.invalidateQueries({ queryKey: keyOf(study) }),
  });
}
