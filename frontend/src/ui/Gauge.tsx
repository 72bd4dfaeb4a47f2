import { UnfoldHorizontal } from "lucide-react";
import { useTakesFocus } from "../common/focus";
import { useEffect, useRef, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import { clamp, mostValues, shown, snap, stepOf, valuesOf, withStep, type SpanSetting } from "../primitives/span";
import { NumberField } from "./NumberField";

interface Props {
  id: string;
  label: string;
  /** Shown instead of the label where room is short. */
  short?: string;
  value: number;
  span: SpanSetting | null;
  min: number;
  max: number;
  step: number;
  digits: number;
  /** Words at both ends. */
  ends?: [string, string];
  /** What a stretched control begins with. */
  stretched?: SpanSetting;
  onValue: (value: number) => void;
  /** Without it the control has one value only. */
  onSpan?: (span: SpanSetting | null) => void;
  /** Instead of the numbers beside the label. */
  fields?: ReactNode;
  /** Right behind the label. */
  beside?: ReactNode;
  /** Reads a value as typed. */
  read?: (text: string) => number;
  /** Where the value usually lies. */
  usual?: [number, number];
  /** By which a key asks for the focus. */
  focusName?: string;
}

type Handle = "value" | "from" | "to";

const MOST = 20;

/**
 * A long thin gauge. One value is a waterline with a thumb; a second handle, pulled out of the thumb's nub or
 * with T, stretches it into a span, and pushed back it is one value again.
 */
export function Gauge({ id, label, short, value, span, min, max, step, digits, ends, stretched, onValue, onSpan, fields, beside, read, usual, focusName }: Props) {
  const track = useRef<HTMLDivElement>(null);
  // What is being dragged, and the span as it was last told, since a drag outruns rendering.
  const drag = useRef<{ handle: Handle; span: SpanSetting | null } | null>(null);

  const place = (v: number) => (clamp((v - min) / (max - min), 0, 1) * 100).toFixed(2);
  const valueAt = (event: PointerEvent) => {
    const box = track.current!.getBoundingClientRect();
    return snap(clamp(min + ((event.clientX - box.left) / box.width) * (max - min), min, max), step);
  };
  const tell = (next: SpanSetting) => {
    if (drag.current) drag.current.span = next;
    onSpan?.({ ...next, count: clamp(next.count, 2, Math.min(MOST, Math.max(2, mostValues(next, step)))) });
  };

  const toggle = () => {
    if (span) {
      // Back to the value it had, where the span still holds it.
      if (value < Math.min(span.from, span.to) || value > Math.max(span.from, span.to)) onValue(span.from);
      onSpan?.(null);
      return;
    }
    const room = Math.min(value + (max - min) * 0.3, max);
    onSpan?.(stretched ?? (room > value ? { from: value, to: snap(room, step), count: 3 } : { from: snap(max - (max - min) * 0.3, step), to: max, count: 3 }));
  };

  const begin = (event: PointerEvent, handle: Handle, pulled: SpanSetting | null = span) => {
    event.preventDefault();
    event.stopPropagation();
    track.current!.setPointerCapture(event.pointerId);
    drag.current = { handle, span: pulled };
  };
  const move = (event: PointerEvent) => {
    const now = drag.current;
    if (!now) return;
    const at = valueAt(event);
    if (now.handle === "value") onValue(at);
    else if (now.span) tell({ ...now.span, [now.handle]: at });
  };
  const end = () => {
    const now = drag.current;
    drag.current = null;
    if (now?.span && now.span.from === now.span.to) {
      onValue(now.span.from);
      onSpan?.(null);
    } else if (now?.span && now.span.from > now.span.to) {
      onSpan?.({ ...now.span, from: now.span.to, to: now.span.from });
    }
  };

  /** More values or fewer; where every value there is is taken, as among seeds, the span grows and shrinks. */
  const more = (by: number) => {
    if (!span) return;
    const count = Math.max(span.count + by, 2);
    const dense = Math.abs((span.count - 1) * step - (span.to - span.from)) < 1e-9;
    tell({ ...span, count, to: dense ? Math.min(max, span.from + (count - 1) * step) : span.to });
  };

  const nudge = (event: KeyboardEvent, handle: Handle) => {
    const current = handle === "value" ? value : span![handle];
    const by = step * (event.shiftKey ? 10 : 1);
    const steps: Record<string, number> = { ArrowRight: current + by, ArrowUp: current + by, ArrowLeft: current - by, ArrowDown: current - by, Home: min, End: max };
    const next = steps[event.key];
    if (event.ctrlKey || event.metaKey) return;
    if (next !== undefined) {
      event.preventDefault();
      const at = snap(clamp(next, min, max), step);
      if (handle === "value") onValue(at);
      else tell({ ...span!, [handle]: at });
    } else if (event.key.toLowerCase() === "t") {
      event.preventDefault();
      toggle();
      // The handle that had the focus is gone; the next keys are meant for the one in its place.
      requestAnimationFrame(focusHandle);
    } else if (span && (event.key === "+" || event.key === "-")) {
      event.preventDefault();
      more(event.key === "+" ? 1 : -1);
    }
  };

  // The wheel over a stretched control: more values or fewer. Not React's own listener, which could not keep the page from scrolling.
  const root = useRef<HTMLDivElement>(null);
  const turned = useRef<((by: number) => void) | null>(null);
  useEffect(() => {
    turned.current = span && onSpan ? more : null;
  });
  useEffect(() => {
    const node = root.current!;
    const wheel = (event: WheelEvent) => {
      if (!turned.current) return;
      event.preventDefault();
      turned.current(event.deltaY < 0 ? 1 : -1);
    };
    node.addEventListener("wheel", wheel, { passive: false });
    return () => node.removeEventListener("wheel", wheel);
  }, []);

  useTakesFocus(focusName ?? "", () => root.current!.querySelector<HTMLElement>("[role=slider]"));
  const focusHandle = () => root.current?.querySelector<HTMLElement>("[role=slider]")?.focus({ preventScroll: true });

  const low = span ? Math.min(span.from, span.to) : min;
  const high = span ? Math.max(span.from, span.to) : value;
  const grip = { id, min, max, stretched: span !== null, onGrab: begin, onKey: nudge };

  return (
    <div ref={root} className="min-w-0 select-none" data-control={id}>
      <div className="flex h-6 items-center gap-1">
        <span className={`truncate font-semibold ${span ? "text-amber" : ""}`}>{short ?? label}</span>
        {onSpan && <button
          type="button"
          aria-pressed={span !== null}
          aria-label={span ? `${label}: back to one value` : `${label}: stretch into a span`}
          title={span ? "Back to one value (T)" : "Stretch into a span (T)"}
          onClick={toggle}
          className={`rounded p-0.5 hover:bg-glow ${span ? "text-amber" : "text-faint"}`}
        >
          <UnfoldHorizontal size={14} />
        </button>}
        {beside}
        <span className="ml-auto flex items-center text-[13px] whitespace-nowrap">
          {fields ?? (span ? (
            <>
              <NumberField label={`${label} from`} value={span.from} digits={digits} width={digits > 1 ? "w-11" : "w-9"} onCommit={(v) => tell({ ...span, from: snap(clamp(v, min, max), step) })} />
              <span className="text-faint">to</span>
              <NumberField label={`${label} to`} value={span.to} digits={digits} width={digits > 1 ? "w-11" : "w-9"} onCommit={(v) => tell({ ...span, to: snap(clamp(v, min, max), step) })} />
            </>
          ) : (
            <NumberField label={label} value={value} digits={digits} read={read} width={short ? "w-9" : undefined} onCommit={(v) => onValue(snap(clamp(v, min, max), step))} />
          ))}
        </span>
      </div>
      <div
        ref={track}
        className="relative h-5 cursor-pointer touch-none"
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          const at = valueAt(event);
          if (!span) {
            onValue(at);
            begin(event, "value");
          } else {
            begin(event, Math.abs(at - span.from) < Math.abs(at - span.to) ? "from" : "to");
          }
          focusHandle();
        }}
        onPointerMove={move}
        onPointerUp={end}
        onPointerCancel={end}
      >
        <div className="absolute inset-x-0 top-1/2 h-1.5 -translate-y-1/2 rounded-full bg-rule" />
        {usual && usual[1] > usual[0] && (
          <div
            data-usual
            title={`usually ${shown(usual[0], digits)} to ${shown(usual[1], digits)}`}
            className="absolute top-1/2 h-3.5 -translate-y-1/2 rounded-sm border-x border-teal/50 bg-teal/10"
            style={{ left: `${place(usual[0])}%`, width: `${Number(place(usual[1])) - Number(place(usual[0]))}%` }}
          />
        )}
        <div
          className={`absolute top-1/2 h-1.5 -translate-y-1/2 rounded-full ${span ? "bg-lamp" : "bg-teal/45"}`}
          style={{ left: `${place(low)}%`, width: `${Number(place(high)) - Number(place(low))}%` }}
        />
        {span &&
          valuesOf(span, digits).slice(1, -1).map((v) => (
            <div key={v} title={shown(v, digits)} className="absolute top-1/2 h-2.5 w-0.5 -translate-x-1/2 -translate-y-1/2 bg-amber" style={{ left: `${place(v)}%` }} />
          ))}
        {span ? (
          <>
            <Thumb {...grip} handle="from" at={span.from} place={place(span.from)} name={`${label} from`} />
            <Thumb {...grip} handle="to" at={span.to} place={place(span.to)} name={`${label} to`} />
          </>
        ) : (
          <Thumb {...grip} handle="value" at={value} place={place(value)} name={label} />
        )}
        {!span && onSpan && (
          <div
            data-handle="nub"
            title="Pull to stretch into a span"
            onPointerDown={(event) => begin(event, "to", { from: value, to: value, count: stretched?.count ?? 5 })}
            className="absolute top-1/2 h-3 w-3 cursor-e-resize rounded-r-full border-y border-r border-amber/60 bg-glow hover:bg-lamp"
            style={{ left: `calc(${place(value)}% + 4px)`, transform: "translateY(-50%)" }}
          />
        )}
      </div>
      {span && !fields ? (
        <div className="flex h-4 items-center justify-center text-xs text-faint">
          by
          <NumberField label={`${label} step`} value={stepOf(span)} digits={digits} width={digits > 1 ? "w-9" : "w-8"} onCommit={(v) => v > 0 && tell(withStep(span, Math.max(snap(v, step), step), MOST))} />
          in
          <NumberField label={`${label} values`} value={span.count} digits={0} width="w-6" onCommit={(v) => tell({ ...span, count: Math.round(v) })} />
          values
        </div>
      ) : (
        <div className="flex h-4 justify-between text-xs leading-3 text-faint">
          <span>{ends?.[0]}</span>
          <span>{ends?.[1]}</span>
        </div>
      )}
    </div>
  );
}

interface ThumbProps {
  id: string;
  handle: Handle;
  at: number;
  place: string;
  name: string;
  min: number;
  max: number;
  stretched: boolean;
  onGrab: (event: PointerEvent, handle: Handle) => void;
  onKey: (event: KeyboardEvent, handle: Handle) => void;
}

/** A handle of a gauge: a small buoy. */
function Thumb({ id, handle, at, place, name, min, max, stretched, onGrab, onKey }: ThumbProps) {
  return (
    <div
      id={handle === "to" ? undefined : id}
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuenow={at}
      data-handle={handle}
      onPointerDown={(event) => onGrab(event, handle)}
      onKeyDown={(event) => onKey(event, handle)}
      className={`absolute top-1/2 h-4 w-2.5 -translate-x-1/2 -translate-y-1/2 cursor-ew-resize rounded-full border-2 bg-sheet ${stretched ? "border-amber" : "border-ink"}`}
      style={{ left: `${place}%` }}
    />
  );
}
