import { Gauge } from "../../ui/Gauge";
import { KeyCap } from "../../ui/Button";
import { MENDS, useHand } from "./store";

const PERCENT = 100;

/** The numbers of the tool in the hand. */
export function Numbers() {
  const held = useHand();
  const { tool, set } = held;
  const brush = tool === "paint" || tool === "erase" || tool === "mend";
  const gauge = (name: string, value: number, range: [number, number], ends: [string, string], onValue: (value: number) => void, digits = 0) => (
    <Gauge id={`hand-${name.toLowerCase().replace(/\W+/g, "-")}`} label={name} value={value} span={null} min={range[0]} max={range[1]} step={digits ? 0.01 : 1} digits={digits} ends={ends} onValue={onValue} />
  );
  return (
    <section aria-label="Numbers of the tool" className="flex flex-col gap-2">
      {brush && gauge("Width, px", held.width, [1, 300], ["fine: [", "broad: ]"], (width) => set({ width }))}
      {brush && gauge("Softness, %", held.soft * PERCENT, [0, PERCENT], ["sharp", "soft"], (v) => set({ soft: v / PERCENT }))}
      {(tool === "paint" || tool === "erase") && gauge("Opacity, %", held.opacity * PERCENT, [1, PERCENT], ["thin", "solid"], (v) => set({ opacity: v / PERCENT }))}
      {tool === "paint" && <Colours />}
      {tool === "sample" && <Choice label="Mean of" values={[[1, "1 px"], [5, "5 px"], [15, "15 px"]]} value={held.mean} onValue={(mean) => set({ mean })} />}
      {tool === "erase" && <Choice label="Eraser" values={[[false, "takes away"], [true, "gives back"]]} value={held.restore} onValue={(restore) => set({ restore })} />}
      {tool === "colour" && gauge("Tolerance", held.tolerance, [0.01, 0.4], ["this colour", "any like it"], (tolerance) => set({ tolerance }), 2)}
      {tool === "colour" && <Choice label="Where" values={[[true, "together"], [false, "everywhere"]]} value={held.together} onValue={(together) => set({ together })} />}
      {(tool === "colour" || tool === "lasso") && (
        <Choice label="With what is selected" values={[["new", "instead"], ["add", "add"], ["away", "take away"], ["cross", "common"]]} value={held.join} onValue={(join) => set({ join })} />
      )}
      {tool === "mend" && <Choice label="Does" values={MENDS.map((mend) => [mend, mend])} value={held.mend} onValue={(mend) => set({ mend })} />}
      {tool === "mend" && held.mend !== "copy" && gauge("How far, %", held.opacity * PERCENT, [1, PERCENT], ["a little", "much"], (v) => set({ opacity: v / PERCENT }))}
      {tool === "mend" && held.mend === "copy" && (
        <>
          <p className="m-0 text-[13px] text-faint"><KeyCap>Alt</KeyCap> and click: copy from there. Then paint over what is to be mended.</p>
          <Choice label="Tones" values={[[true, "as around"], [false, "as copied"]]} value={held.matched} onValue={(matched) => set({ matched })} />
          <Choice label="Sides" values={[[false, "as they are"], [true, "mirrored"]]} value={held.mirrored} onValue={(mirrored) => set({ mirrored })} />
        </>
      )}
      {tool === "lasso" && <p className="m-0 text-[13px] text-faint">Drag around it, or click from corner to corner; a click on the first one closes the line.</p>}
      {tool === "place" && <p className="m-0 text-[13px] text-faint">Drag to move, corners scale, the handle above turns. <KeyCap>Alt</KeyCap> while dragging: no snapping.</p>}
    </section>
  );
}

interface ChoiceProps<T> {
  label: string;
  values: [T, string][];
  value: T;
  onValue: (value: T) => void;
}

function Choice<T extends string | number | boolean>({ label, values, value, onValue }: ChoiceProps<T>) {
  return (
    <div role="radiogroup" aria-label={label} className="flex flex-wrap items-center gap-1 text-[13px]">
      <span className="mr-1 text-faint">{label}</span>
      {values.map(([own, title]) => (
        <button key={title} type="button" role="radio" aria-checked={own === value} onClick={() => onValue(own)} className={`h-6 rounded border px-2 ${own === value ? "border-amber bg-glow font-semibold" : "border-rule bg-sheet text-faint"}`}>
          {title}
        </button>
      ))}
    </div>
  );
}

function Colours() {
  const { colour, recent, set } = useHand();
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      <input type="color" aria-label="Colour" value={colour} onChange={(event) => set({ colour: event.target.value })} className="h-8 w-10 cursor-pointer rounded border border-rule bg-sheet p-0.5" />
      <span className="text-[13px] tabular-nums">{colour}</span>
      <span className="flex gap-1">
        {recent.map((own) => (
          <button key={own} type="button" aria-label={`Colour ${own}`} title={own} onClick={() => set({ colour: own })} className="h-5 w-5 rounded-full border border-rule" style={{ background: own }} />
        ))}
      </span>
      <span className="w-full text-xs text-faint"><KeyCap>Alt</KeyCap> and click takes a colour from the picture.</span>
    </div>
  );
}
