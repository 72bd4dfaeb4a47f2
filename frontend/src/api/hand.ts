import { useQuery } from "@tanstack/react-query";
import type { components } from "./types.gen";
import { answered, client, type SourceView } from "./client";

export type StackView = components["schemas"]["StackView"];
export type StackCard = components["schemas"]["StackCard"];
export type StackOpen = components["schemas"]["StackOpen"];
export type LayerPicture = components["schemas"]["LayerPicture"];
export type Patch = components["schemas"]["Patch"];
export type CutAsked = components["schemas"]["CutAsked"];
export type CutView = components["schemas"]["CutView"];
export type Thing = components["schemas"]["Thing"];
type Stack = components["schemas"]["Stack"];

export const layerPicture = (digest: string) => `/api/layer-pictures/${digest}`;
export const stackPicture = (id: string, revision: number) => `/api/stacks/${id}/picture?side=256&seen=${revision}`;
export const stackWhole = (id: string) => `/api/stacks/${id}/picture`;
export const stackFile = (id: string) => `/api/stacks/${id}/openraster`;
export const thingPicture = (name: string) => `/api/library/${name}`;
/** What is behind an empty picture, and behind transparency where one must be. */
export const GROUND = "#f4f1ea";
export const stackKey = (id: string) => ["stack", id] as const;

const at = (id: string) => ({ path: { stack_id: id } });
const formOf = (file: Blob, more: Record<string, string> = {}) => {
  const form = new FormData();
  form.append("file", file, file instanceof File ? file.name : "layer.png");
  for (const [name, value] of Object.entries(more)) form.append(name, value);
  return form;
};

/** The study's touched pictures. */
export const useStacks = (studyId: string) =>
  useQuery({ queryKey: ["stacks", studyId], queryFn: () => answered(client.GET("/api/studies/{study_id}/stacks", { params: { path: { study_id: studyId } } })) });

export const readStack = (id: string): Promise<StackView> => answered(client.GET("/api/stacks/{stack_id}", { params: at(id) }));

export const useLibrary = () => useQuery({ queryKey: ["library"], queryFn: () => answered(client.GET("/api/library")), staleTime: Infinity });

export const openHand = (studyId: string, body: StackOpen): Promise<StackView> =>
  answered(client.POST("/api/studies/{study_id}/stacks", { params: { path: { study_id: studyId } }, body }));

export const openLayers = (studyId: string, file: File): Promise<StackView> =>
  answered(client.POST("/api/studies/{study_id}/openraster", { params: { path: { study_id: studyId } }, body: { file: "" }, bodySerializer: () => formOf(file) }));

export const changeStack = (id: string, revision: number, stack: Stack): Promise<StackView> =>
  answered(client.PUT("/api/stacks/{stack_id}", { params: at(id), body: { revision, stack } }));

export const stepStack = (id: string, revision: number, by: -1 | 1): Promise<StackView> =>
  answered(client.POST("/api/stacks/{stack_id}/step", { params: at(id), body: { revision, by } }));

export const takeIn = (id: string, revision: number, take: string): Promise<StackView> =>
  answered(client.POST("/api/stacks/{stack_id}/take", { params: at(id), body: { revision, take } }));

export const keepPicture = (file: Blob): Promise<LayerPicture> =>
  answered(client.POST("/api/layer-pictures", { body: { file: "" }, bodySerializer: () => formOf(file) }));

export const cutPicture = (body: CutAsked): Promise<CutView> => answered(client.POST("/api/cuts", { body }));

export const fillSelection = (id: string, mask: Blob): Promise<Patch> =>
  answered(client.POST("/api/stacks/{stack_id}/fill", { params: at(id), body: { file: "" }, bodySerializer: () => formOf(mask) }));

export const healSelection = (id: string, mask: Blob, from: { across: number; down: number; mirrored: boolean; matched: boolean }): Promise<Patch> =>
  answered(
    client.POST("/api/stacks/{stack_id}/heal", {
      params: at(id),
      body: { file: "", ...from },
      bodySerializer: () => formOf(mask, Object.fromEntries(Object.entries(from).map(([name, value]) => [name, String(value)]))),
    }),
  );

export const makeSource = (id: string, depth: boolean): Promise<SourceView> =>
  answered(client.POST("/api/stacks/{stack_id}/source", { params: { ...at(id), query: { depth } } }));

/** Keep where takes may change a source. */
export const giveRegion = (sourceId: string, mask: Blob): Promise<SourceView> =>
  answered(client.PUT("/api/sources/{source_id}/region", { params: { path: { source_id: sourceId } }, body: { file: "" }, bodySerializer: () => formOf(mask) }));

/** Give a source a depth guide: white near. */
export const giveDepth = (sourceId: string, picture: Blob): Promise<SourceView> =>
  answered(client.PUT("/api/sources/{source_id}/depth", { params: { path: { source_id: sourceId } }, body: { file: "" }, bodySerializer: () => formOf(picture) }));
