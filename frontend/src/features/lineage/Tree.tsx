import { memo, useCallback, useEffect, useRef, useState, type PointerEvent, type ReactNode } from "react";
import { useElementSize } from "../../common/useElementSize";
import { fitted, kept, zoomedAt, type Size, type View } from "../../primitives/view";
import { levels } from "../../primitives/walk";
import { StepBox } from "./StepBox";
import type { Plan } from "./layout";

interface Props {
  plan: Plan;
  /** The step under the hand, one beside it, those that led to it. */
  picked: string | null;
  beside: string | null;
  way: ReadonlySet<string>;
  onPick: (id: string, beside: boolean) => void;
  onOpen: (id: string) => void;
  children?: ReactNode;
}

const CLOSEST = 2;
const FARTHEST = 0.08;
const MARGIN = 16;
/** Below this what stands on steps can't be read. */
const SMALLEST_READ = 0.8;
const STEP = 1.25;

/** The tree as a plan that is moved and zoomed; steps and lines are drawn once, only the plan moves. */
export function Tree({ plan, picked, beside, way, onPick, onOpen, children }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const room = useElementSize(frame);
  const [view, setView] = useState<View | null>(null);
  const current = view ?? begun(plan, room, picked);
  const latest = useRef({ current, room, plan });
  useEffect(() => {
    latest.current = { current, room, plan };
  });
  const wheel = useCallback((event: WheelEvent) => {
    event.preventDefault();
    const { current: now, plan: of, room: within } = latest.current;
    const box = frame.current!.getBoundingClientRect();
    const scale = Math.min(Math.max(now.scale * Math.exp(-event.deltaY * 0.0016), FARTHEST), CLOSEST);
    setView(kept(zoomedAt(now, scale, event.clientX - box.left, event.clientY - box.top), of, within));
  }, []);
  useEffect(() => {
    const node = frame.current!;
    // React's own wheel listener is passive and could not keep the page from scrolling.
    node.addEventListener("wheel", wheel, { passive: false });
    return () => node.removeEventListener("wheel", wheel);
  }, [wheel]);
  // What is picked by a key comes into sight.
  useEffect(() => {
    const { current: now, room: within, plan: of } = latest.current;
    const step = of.steps.find((one) => one.id === picked);
    if (!step || !within.width) return;
    const [left, top] = [now.x + step.x * now.scale, now.y + step.y * now.scale];
    const [right, bottom] = [left + step.width * now.scale, top + step.height * now.scale];
    if (left < 0 || top < 0 || right > within.width || bottom > within.height) {
      setView({ ...now, x: within.width / 2 - (step.x + step.width / 2) * now.scale, y: within.height / 2 - (step.y + step.height / 2) * now.scale });
    }
  }, [picked]);
  const pan = usePan(current, (next) => setView(kept(next, plan, room)));
  const zoom = (by: number) => setView(kept(zoomedAt(current, Math.min(Math.max(current.scale * by, FARTHEST), CLOSEST), room.width / 2, room.height / 2), plan, room));
  return (
    <div ref={frame} className="relative min-h-0 flex-1 cursor-grab overflow-hidden active:cursor-grabbing" {...pan}>
      <div className="absolute top-0 left-0 origin-top-left will-change-transform" style={{ width: plan.width, height: plan.height, transform: `translate(${current.x}px, ${current.y}px) scale(${current.scale})` }}>
        <Steps plan={plan} picked={picked} beside={beside} way={way} onPick={onPick} onOpen={onOpen} />
      </div>
      <div className="absolute right-2 bottom-2 flex gap-1" onPointerDown={(event) => event.stopPropagation()}>
        {children}
        <Small title="Farther" onClick={() => zoom(1 / STEP)}>−</Small>
        <Small title="Closer" onClick={() => zoom(STEP)}>+</Small>
        <Small title="All of it" onClick={() => setView(fitted(plan, room, MARGIN, 1))}>Fit</Small>
      </div>
    </div>
  );
}

/** All of it where it can be read so small; else what is picked in the middle, or the beginning. */
function begun(plan: Plan, room: Size, picked: string | null): View {
  const all = fitted(plan, room, MARGIN, 1);
  if (all.scale >= SMALLEST_READ) return all;
  const step = plan.steps.find((one) => one.id === picked);
  const at = { scale: SMALLEST_READ, y: 0, x: step ? room.width / 2 - (step.x + step.width / 2) * SMALLEST_READ : MARGIN };
  const high = plan.height * SMALLEST_READ;
  at.y = high <= room.height ? (room.height - high) / 2 : step ? room.height / 2 - (step.y + step.height / 2) * SMALLEST_READ : MARGIN;
  const left = room.width - plan.width * SMALLEST_READ - MARGIN;
  return { ...at, x: Math.min(Math.max(at.x, Math.min(left, MARGIN)), MARGIN) };
}

function Small({ title, onClick, children }: { title: string; onClick: () => void; children: string }) {
  return (
    <button type="button" title={title} aria-label={title} onClick={onClick} className="h-7 min-w-7 rounded-md border border-rule bg-paper px-2 font-semibold text-ink hover:border-faint">
      {children}
    </button>
  );
}

/** Everything on the plan; drawn anew only where something of it changes, never while it is moved. */
const Steps = memo(function Steps({ plan, picked, beside, way, onPick, onOpen }: Omit<Props, "children">) {
  const level = levels(plan.steps);
  return (
    <>
      <svg width={plan.width} height={plan.height} className="pointer-events-none absolute inset-0" aria-hidden>
        {plan.lines.map((line) => {
          const lit = way.has(line.from) && way.has(line.to);
          return <path key={`${line.from} ${line.to}`} d={line.path} fill="none" strokeWidth={lit ? 3 : 1.5} className={lit ? "stroke-lamp" : "stroke-current opacity-40"} />;
        })}
      </svg>
      <div role="tree" aria-label="How the pictures of this study came about" aria-orientation="horizontal">
        {plan.steps.map((step) => (
          <StepBox key={step.id} step={step} level={level.get(step.id) ?? 1} picked={step.id === picked} beside={step.id === beside} lit={way.has(step.id)} first={picked === null && step === plan.steps[0]} onPick={onPick} onOpen={onOpen} />
        ))}
      </div>
    </>
  );
});

/** A drag of the empty ground moves the plan. */
function usePan(view: View, onView: (view: View) => void) {
  const from = useRef<{ x: number; y: number; view: View } | null>(null);
  return {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      if (event.button !== 0) return;
      from.current = { x: event.clientX, y: event.clientY, view };
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      const start = from.current;
      if (!start) return;
      // A click stays a click: the pointer is only held once it moves.
      if (Math.hypot(event.clientX - start.x, event.clientY - start.y) > 3) event.currentTarget.setPointerCapture(event.pointerId);
      onView({ ...start.view, x: start.view.x + event.clientX - start.x, y: start.view.y + event.clientY - start.y });
    },
    onPointerUp: () => {
      from.current = null;
    },
    onPointerCancel: () => {
      from.current = null;
    },
  };
}
