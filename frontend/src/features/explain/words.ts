/** What a control does, in a sentence, and values that show it. */
export interface Explained {
  words: string;
  values: (number | string)[];
}

export const EXPLAINED: Record<string, Explained> = {
  strength: {
    words: "How far the take goes from the source: 0 is the source itself, 1 lets go of it. Where others count how much is kept, keep 70 % is .30 here.",
    values: [0.15, 0.35, 0.55, 0.75, 0.95],
  },
  guidance: { words: "How hard look and words pull: 1 leaves words out, 5 to 9 is rich, above 15 it gets loud.", values: [1, 4, 7, 12, 20] },
  seed: { words: "Which noise it begins with: another seed is another variant, the more so the higher the strength.", values: [1, 2, 3, 4, 5] },
  steps: { words: "How finely it is worked out: more steps refine and cost time; the subject stays.", values: [4, 8, 16, 30] },
  lines: { words: "Keeps edges where they are: contours, features, writing. Free, the look redraws them.", values: [0, 0.35, 0.7, 1] },
  shapes: { words: "Keeps the coarse masses of light and dark, and silhouettes. Free, the composition itself may go.", values: [0, 0.35, 0.7, 1] },
  colours: { words: "Keeps the broad colours. Free, look and words choose the palette.", values: [0, 0.3, 0.6, 1] },
  faces: { words: "Keeps features in found faces, more firmly than the rest. Without faces it does nothing.", values: [0, 0.5, 0.85, 1] },
  sampler: { words: "How the steps are taken: DPM++ 2M is smooth with few steps, Euler plainer, Euler ancestral stirs new noise in and roams.", values: ["dpm++2m", "euler", "euler-ancestral"] },
  look_weight: { words: "How far the painter goes: little paint shows the picture beneath, much exaggerates the marks.", values: [0, 0.5, 1, 1.5] },
};
