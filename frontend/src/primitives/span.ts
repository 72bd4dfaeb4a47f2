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

/** The step between a span's values. */
export const stepOf = ({ from, to, count }: SpanSetting): number => (count < 2 ? 0 : Number((Math.abs(to - from) / (count - 1)).toFixed(6)));

/** A span whose values lie `step` apart: from where it begins, as far as whole steps go. */
export function withStep(span: SpanSetting, step: number, most: number): SpanSetting {
  const whole = Math.floor(Math.abs(span.to - span.from) / Math.max(step, 1e-6) + 1e-6);
  const count = clamp(whole, 1, most - 1) + 1;
  const far = span.from + Math.sign(span.to - span.from || 1) * step * (count - 1);
  return { from: span.from, to: Number(far.toFixed(6)), count };
}

/** A value as the artist reads it. */
export function shown(value: number, digits: number): string {
  return value.toFixed(digits);
}
