/** A prompt as phrases with weights; the text itself is what the recipe keeps. */

export interface Phrase {
  text: string;
  weight: number;
}

export const LEAST_WEIGHT = 0.1;
export const MOST_WEIGHT = 2;

export const clampWeight = (weight: number) => Math.round(Math.min(Math.max(weight, LEAST_WEIGHT), MOST_WEIGHT) * 100) / 100;

/** Phrases of a prompt, separated by commas, semicolons or lines; an unreadable weight stays part of the text. */
export function readPhrases(prompt: string): Phrase[] {
  return prompt
    .split(/[,;\n]/)
    .map((part) => {
      const found = /^(.*)\^\s*(\d*\.?\d+)\s*$/.exec(part.trim());
      const weight = found ? Number(found[2]) : 1;
      if (!found || weight < LEAST_WEIGHT || weight > MOST_WEIGHT) return { text: part.trim(), weight: 1 };
      return { text: found[1]!.trim(), weight };
    })
    .filter((phrase) => phrase.text !== "");
}

export const writePhrase = ({ text, weight }: Phrase) => (weight === 1 ? text : `${text}^${weight}`);

export const writePhrases = (phrases: Phrase[]) => phrases.map(writePhrase).join(", ");

/** A phrase at another place; what lies between closes up. */
export function movedPhrase(phrases: Phrase[], from: number, to: number): Phrase[] {
  const out = [...phrases];
  const [taken] = out.splice(from, 1);
  if (taken) out.splice(Math.min(Math.max(to, 0), out.length), 0, taken);
  return out;
}

/** More phrases at the end of a prompt; those that stand there already are left out. */
export function withPhrases(prompt: string, more: string[]): string {
  const phrases = readPhrases(prompt);
  const there = new Set(phrases.map((p) => p.text.toLowerCase()));
  const fresh = more.filter((text) => !there.has(readPhrases(text)[0]?.text.toLowerCase() ?? ""));
  return [...(phrases.length ? [prompt.trim().replace(/[,;\s]+$/, "")] : []), ...fresh].join(", ");
}

/** Short labels of prompts side by side: what each has and not all have. */
export function versionLabels(prompts: string[]): string[] {
  const all = prompts.map((prompt) => readPhrases(prompt).map(writePhrase));
  return all.map((own) => {
    const rare = own.filter((text) => !all.every((other) => other.includes(text)));
    return rare.join(", ") || (own.length ? "as common" : "no words");
  });
}
