/** What of the source is being changed, in place of the sheet. */
export type Touched = "frame" | "recolour" | "region" | "faces" | "subject" | "mix";
