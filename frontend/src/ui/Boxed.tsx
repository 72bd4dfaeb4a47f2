export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** A place of a picture, boxed. */
export function Boxed({ region }: { region: Box }) {
  const share = (v: number) => `${(100 * v).toFixed(1)}%`;
  return (
    <span
      data-testid="region"
      className="pointer-events-none absolute border-2 border-white shadow-[0_0_0_1px_rgba(0,0,0,.6)]"
      style={{ left: share(region.left), top: share(region.top), width: share(region.right - region.left), height: share(region.bottom - region.top) }}
    />
  );
}
