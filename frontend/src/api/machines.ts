import { useQuery } from "@tanstack/react-query";
import { answered, client } from "./client";
import type { components } from "./types.gen";

export type MachinesView = components["schemas"]["MachinesView"];
export type WorkerView = components["schemas"]["WorkerView"];

const FRESH = 3000;

/** The installation at work, read every few seconds while somebody looks. */
export function useMachines() {
  return useQuery({ queryKey: ["machines"], queryFn: () => answered(client.GET("/api/machines")), refetchInterval: FRESH });
}
