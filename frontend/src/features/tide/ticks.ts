/** How the numbers and lines of a chart's axes look. */
export const TICKS = { fontSize: 11, fontFamily: "inherit", fill: "var(--color-faint)" } as const;
const LINE = { stroke: "var(--color-rule)", tickStroke: "var(--color-rule)" } as const;
export const LEFT_TICKS = { ...LINE, tickLabelProps: { ...TICKS, textAnchor: "end", dx: -3, dy: 4 } } as const;
export const BOTTOM_TICKS = { ...LINE, tickLabelProps: { ...TICKS, textAnchor: "middle" } } as const;
