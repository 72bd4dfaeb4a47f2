/** Which way an arrow key moves something, in steps of a hundredth, five with Shift; null for other keys. */
export function nudgeOf({ key, shiftKey }: { key: string; shiftKey: boolean }): [number, number] | null {
  const step = shiftKey ? 0.05 : 0.01;
  const ways: Record<string, [number, number]> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] };
  return ways[key] ?? null;
}
