import program from "../../api/program.gen.json";

/** What a control does, in a sentence, and values that show it. */
export interface Explained {
  words: string;
  values: (number | string)[];
}

export const EXPLAINED: Record<string, Explained> = program.explained;
