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

/** What is looked for on the shelf; `days` back from today. */
export interface Found {
  find: string;
  kind?: string | undefined;
  mark?: string | undefined;
  days?: string | undefined;
  archived: boolean;
  order: "touched" | "name" | "created";
}

export const ALL: Found = { find: "", archived: false, order: "touched" };

const DAY = 24 * 3600 * 1000;

/** Whether anything is left out. */
export const isAsked = ({ find, kind, mark, days, archived }: Found) => Boolean(find.trim() || kind || mark || days || archived);

/** As the server is asked. */
export function askedOf<Kind extends string, Mark extends string>({ find, kind, mark, days, archived, order }: Found, today: Date) {
  return {
    find: find.trim(),
    archived,
    order,
    ...(kind && { kind: kind as Kind }),
    ...(mark && { mark: mark as Mark }),
    ...(days && { since: new Date(today.getTime() - Number(days) * DAY).toISOString().slice(0, 10) }),
  };
}
