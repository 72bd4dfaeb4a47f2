/** Seconds as a person says them. */
export function duration(seconds: number): string {
  if (seconds < 1) return "under 1 s";
  if (seconds < 90) return `${Math.round(seconds)} s`;
  const minutes = Math.floor(seconds / 60);
  if (minutes < 60) return `${minutes} min ${Math.round(seconds % 60)} s`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** Bytes as a person says them. */
export function disk(bytes: number): string {
  if (bytes < 1e6) return `${Math.max(1, Math.round(bytes / 1e3))} KB`;
  return bytes < 1e9 ? `${(bytes / 1e6).toFixed(bytes < 1e7 ? 1 : 0)} MB` : `${(bytes / 1e9).toFixed(1)} GB`;
}

/** "1 take", "3 takes". */
export function counted(count: number, one: string): string {
  return `${count} ${one}${count === 1 ? "" : "s"}`;
}
