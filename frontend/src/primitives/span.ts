/** A stretched control: `count` values from `from` to `to`, both included. */
export interface SpanSetting {
  from: number;
  to: number;
  count: number;
}

/** Round to a step without the noise of binary fractions. */
export function snap(value: number, step: number): number {
  return Number((Math.round(value / step) * step).toFixed(6));
}

export function clamp(value: number, low: number, high: number): number {
  return Math.min(Math.max(value, low), high);
}

/** The values of a span, evenly spaced; equal values once. */
export function valuesOf(span: SpanSetting, digits: number): number[] {
  const { from, to, count } = span;
  if (count < 2 || from === to) return [from];
  const values = Array.from({ length: count }, (_, i) =>
    Number((from + ((to - from) * i) / (count - 1)).toFixed(digits)),
  );
  return [...new Set(values)];
}

/** How many different values a span can have on a grid of steps. */
export function mostValues(span: SpanSetting, step: number): number {
  return Math.round(Math.abs(span.to - span.from) / step) + 1;
}

/** A value as the artist reads it. */
export function shown(value: number, digits: number): string {
  return value.toFixed(digits);
}
