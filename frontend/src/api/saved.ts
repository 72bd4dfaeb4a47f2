import { useMutation } from "@tanstack/react-query";
import { answered, client, type SweepRequest } from "./client";
import type { components } from "./types.gen";

export type SavedView = components["schemas"]["SavedView"];
type Saved = components["schemas"]["Saved"];

/** What can be done with a saved picture that comes back. */
export const readSaved = (carried: Record<string, unknown>): Promise<SavedView> => answered(client.POST("/api/saved", { body: carried as unknown as Saved }));

export const useRunSaved = () => useMutation({ mutationFn: (body: SweepRequest) => answered(client.POST("/api/sweeps", { body })) });
