import { counted, disk } from "./words";

/** What stands under a study: its takes, those kept, those that are still to come. */
export function takesWords(takes: number, kept: number, left: number): string {
  const there = takes ? `${counted(takes, "take")}${kept ? `, ${kept} kept` : ""}` : left ? "" : "no takes yet";
  const coming = left ? `${left} to come` : "";
  return [there, coming].filter(Boolean).join(", ");
}

interface Room {
  total: number | null;
  free: number | null;
  pictures: number;
}

/** What pictures take and how much room is left. */
export function roomWords({ free, pictures }: Room): string {
  const taken = `All studies take ${disk(pictures)}`;
  return free === null ? `${taken}.` : `${taken}; ${disk(free)} of the disk are free.`;
}
