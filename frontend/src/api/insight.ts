import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, client, type Framing, type SourceView, type StudyView } from "./client";
import { studyKey } from "./queries";
import type { components } from "./types.gen";

export type PartView = components["schemas"]["PartView"];
export type SaidView = components["schemas"]["SaidView"];
export type PhraseSetView = components["schemas"]["PhraseSetView"];
type PhraseSetChange = components["schemas"]["PhraseSetChange"];
export type HoldName = "lines" | "shapes" | "colours" | "faces" | "subject" | "depth";

const HOLD_SIZE = 512;

/** What a hold keeps, to be laid over the framed source. */
export const holdOverlay = (source: SourceView, hold: HoldName) =>
  `/api/sources/${source.id}/holds/${hold}?size=${HOLD_SIZE}&frame=${source.frame_key}${hold === "depth" ? `&guide=${source.has_depth}` : ""}${hold === "faces" ? `&marks=${source.faces_key}` : ""}${hold === "subject" ? `&marks=${source.faces_key}&said=${source.subject_key}` : ""}`;

/** The source in a look, small; everything that decides its pixels is in the address. */
export const lookPreview = (source: SourceView, look: string, engine: string) =>
  `/api/sources/${source.id}/looks/${look}/preview?frame=${source.frame_key}&engine=${engine}&kind=${encodeURIComponent(source.kind)}`;

/** A detail of the source as another framing would have it, pixel for pixel. */
export const resampledDetail = (source: SourceView, framing: Framing, size: number, x: number, y: number) =>
  `/api/sources/${source.id}/detail?size=${size}&x=${x.toFixed(3)}&y=${y.toFixed(3)}&as=${encodeURIComponent(JSON.stringify(framing))}`;

export function useColours(source: SourceView) {
  return useQuery({
    queryKey: ["colours", source.id, source.frame_key],
    queryFn: () => answered(client.GET("/api/sources/{source_id}/colours", { params: { path: { source_id: source.id } } })),
    staleTime: Infinity,
  });
}

export function useDescription(source: SourceView, wanted: boolean) {
  return useQuery({
    queryKey: ["description", source.id, source.frame_key, source.kind],
    queryFn: () => answered(client.GET("/api/sources/{source_id}/description", { params: { path: { source_id: source.id } } })),
    enabled: wanted,
    staleTime: Infinity,
  });
}

const SETS = ["phrases"];

export function usePhraseSets() {
  return useQuery({ queryKey: SETS, queryFn: () => answered(client.GET("/api/phrases")) });
}

function useSetsChange<Given, Made>(change: (given: Given) => Promise<Made>) {
  const queries = useQueryClient();
  return useMutation({ mutationFn: change, onSuccess: () => queries.invalidateQueries({ queryKey: SETS }) });
}

export const useKeepPhrases = () => useSetsChange((body: PhraseSetChange) => answered(client.POST("/api/phrases", { body })));

export const useChangePhrases = () =>
  useSetsChange(({ id, ...body }: PhraseSetView) =>
    answered(client.PUT("/api/phrases/{set_id}", { params: { path: { set_id: id } }, body })),
  );

export const useForgetPhrases = () =>
  useSetsChange((id: string) => answered(client.DELETE("/api/phrases/{set_id}", { params: { path: { set_id: id } } })));

/** A picture file becomes a further source of a study. */
export function useAddSource() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ studyId, file }: { studyId: string; file: File }) => {
      const form = new FormData();
      form.append("file", file, file.name || "pasted.png");
      return answered<SourceView>(
        client.POST("/api/studies/{study_id}/sources/file", { params: { path: { study_id: studyId } }, body: { file: "" }, bodySerializer: () => form }),
      );
    },
    onSuccess: (source, { studyId }) => {
      queries.setQueryData<StudyView>(studyKey(studyId), (study) => study && { ...study, sources: [...study.sources, source] });
    },
  });
}

export function useRemoveSource() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ sourceId }: { studyId: string; sourceId: string }) =>
      answered(client.DELETE("/api/sources/{source_id}", { params: { path: { source_id: sourceId } } })),
    onSuccess: (_gone, { studyId }) => queries.invalidateQueries({ queryKey: studyKey(studyId) }),
  });
}

/** The framing with some parts in other colours. */
export const recolouredFraming = (framing: Framing, parts: { colour: string; now: string }[]): Framing => ({
  ...framing,
  recolour: parts.filter((p) => p.now !== p.colour).map((p) => ({ part: p.colour, now: p.now })),
});

/** How the source would look in a framing that isn't kept yet. */
export const recolouredPreview = (source: SourceView, framing: Framing, size: number) =>
  `/api/sources/${source.id}/image?size=${size}&as=${encodeURIComponent(JSON.stringify(framing))}`;
