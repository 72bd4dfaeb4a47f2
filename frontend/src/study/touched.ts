/** What is done to a source as a whole, in the Hand. */
export const TOUCHED = ["frame", "recolour", "region", "faces", "subject", "mix"] as const;
export type Touched = (typeof TOUCHED)[number];

export const asTouched = (text: string | null): Touched | null => TOUCHED.find((what) => what === text) ?? null;
