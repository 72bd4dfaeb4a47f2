import createClient from "openapi-fetch";
import { patient } from "./patience";
import type { components, paths } from "./types.gen";

export type CarryOn = components["schemas"]["CarryOn"];
export type Choices = components["schemas"]["Choices"];
export type FaceMark = components["schemas"]["FaceMark"];
export type LookView = components["schemas"]["LookView"];
export type MarkValue = "keep" | "maybe" | "drop";
export type MarkView = components["schemas"]["MarkView"];
export type PlanView = components["schemas"]["PlanView"];
export type PhraseView = components["schemas"]["PhraseView"];
export type Recipe = components["schemas"]["Recipe"];
export type Readings = components["schemas"]["Readings"];
export type FoundFace = components["schemas"]["FoundFace"];
export type RowTipView = components["schemas"]["RowTipView"];
export type Framing = SourceView["framing"];
export type Kind = SourceView["kind"];
export type SceneView = components["schemas"]["SceneView"];
export type SourceView = components["schemas"]["SourceView"];
export type StudyCard = components["schemas"]["StudyCard"];
export type StudyView = components["schemas"]["StudyView"];
export type SweepRequest = components["schemas"]["SweepRequest"];
export type SweepView = components["schemas"]["SweepView"];
export type TakeView = components["schemas"]["TakeView"];

export const client = createClient<paths>({ baseUrl: "/", fetch: patient((request) => fetch(request)) });

/** A refusal by the server: its message is one sentence for the artist. */
export class Refusal extends Error {}

export const UNREACHABLE = "Warm Tide's server does not answer; is it still running?";

/** The data of an answer, or a `Refusal`. */
export async function answered<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch {
    throw new Refusal(UNREACHABLE);
  }
  if (answer.response.ok) return answer.data as T;
  const said = answer.error as { message?: unknown } | undefined;
  throw new Refusal(typeof said?.message === "string" ? said.message : UNREACHABLE);
}

export const takeImage = (id: string) => `/api/takes/${id}/image`;
export const takePreview = (id: string) => `/api/takes/${id}/preview`;
/** The smallest picture of a take, by the name that the take gives it. */
export const takeThumb = (digest: string) => `/api/thumbs/${digest}`;
export const takeHeat = (id: string, version: number) => `/api/takes/${id}/heat?readings=${version}`;
/** The lines of the source as a take saw it, to lay over the take. */
export const takeLines = (id: string) => `/api/takes/${id}/lines`;
export const lookFile = (name: string) => `/api/looks/${name}/file`;
export const takeSave = (id: string) => `/api/takes/${id}/image?save=true`;

/** A sweep in one of the forms that `Choices` lists. */
export const sweepExport = (id: string, form: string) => `/api/sweeps/${id}/export/${form}`;

/** The source as framed; the framing is in the address, so that a changed one is fetched. */
export const sourceImage = (source: SourceView, size: number) =>
  `/api/sources/${source.id}/image?size=${size}&frame=${source.frame_key}`;

/** The source as a take saw it, in its framing of then. */
export const takeSource = (id: string) => `/api/takes/${id}/source`;
/** Where takes may change the source, as it was painted. */
export const regionImage = (source: SourceView) => `/api/sources/${source.id}/region?key=${source.region_key}`;
/** What the source is about: white the subject. */
export const subjectImage = (source: SourceView) => `/api/sources/${source.id}/subject?key=${source.subject_key}&marks=${source.faces_key}`;
/** What was painted into the subject and out of it. */
export const subjectStrokes = (source: SourceView) => `/api/sources/${source.id}/subject/strokes?key=${source.subject_key}`;
/** The source unframed, in its parts' new colours. */
export const originalImage = (source: SourceView) => `/api/sources/${source.id}/original?frame=${source.frame_key}`;
