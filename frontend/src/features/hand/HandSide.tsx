import type { SourceView } from "../../api/client";
import { stackFile, stackWhole } from "../../api/hand";
import { KeyCap, Button } from "../../ui/Button";
import { Gauge } from "../../ui/Gauge";
import { NumberField } from "../../ui/NumberField";
import type { Layer, Place, Stack } from "../../primitives/stack";
import type { Canvas } from "./canvas";
import { LayerList } from "./LayerList";
import { Numbers } from "./Numbers";
import { useHand } from "./store";
import type { Acts } from "./useActs";
import type { StackHand } from "./useStack";

interface Props {
  hand: StackHand;
  stack: Stack;
  canvases: ReadonlyMap<string, Canvas>;
  acts: Acts;
  /** The source that the desk works on. */
  source: SourceView | undefined;
}

/** What the tool, the selection and the picked layer are, and what can be done with them. */
export function HandSide({ hand, stack, canvases, acts, source }: Props) {
  const { selection, tool, set } = useHand();
  const { layer } = acts;
  return (
    <aside aria-label="Hand" className="flex w-[264px] shrink-0 flex-col gap-3 overflow-y-auto border-l border-rule bg-paper p-3 text-ink">
      <Numbers />
      {(tool === "lasso" || tool === "colour") && (
        <div className="flex flex-wrap gap-1.5">
          <Small onClick={() => acts.find("subject")} hint="Select what the whole is about (B)" keyCap="B">Subject</Small>
          <Small onClick={() => acts.find("person")} hint="Select a person (Shift B)">Person</Small>
          {layer && <Small onClick={acts.selectLayer} hint="Select what is solid of the picked layer (S)" keyCap="S">The layer</Small>}
        </div>
      )}
      {selection && <Selected acts={acts} />}
      {layer && !selection && (
        <section aria-label="Picked layer" className="flex flex-col gap-2 border-t border-rule pt-2">
          {layer.ground && <GroundColours ground={layer.ground} onGround={(ground) => acts.edit({ ground }, "ground")} />}
          {tool === "place" && <Where place={layer.place} locked={layer.locked} onPlace={(place) => acts.edit({ place })} />}
          <Gauge id="hand-layer-opacity" label="Layer's opacity, %" value={Math.round(layer.opacity * 100)} span={null} min={0} max={100} step={1} digits={0} ends={["clear", "solid"]} onValue={(v) => acts.edit({ opacity: v / 100 }, "opacity")} />
          <div className="flex flex-wrap gap-1.5">
            <Small onClick={() => acts.cut("subject")} hint="What the layer is about, as a layer of its own (X)" keyCap="X">Cut out</Small>
            <Small onClick={() => acts.cut("person")} hint="A person, as a layer of its own (Shift X)">Person</Small>
            <Small onClick={acts.again} hint="The layer once more (D)" keyCap="D">Again</Small>
            <Small onClick={() => acts.flip("across")} hint="Left and right exchanged (J)" keyCap="J">Mirror</Small>
            <Small onClick={() => acts.flip("down")} hint="Top and bottom exchanged (Shift J)">Upside down</Small>
            <Small onClick={acts.selectLayer} hint="Select what is solid of it (S)" keyCap="S">Select it</Small>
            <Small onClick={acts.remove} hint="Take the layer away (Delete)">Take away</Small>
          </div>
        </section>
      )}
      <div className="flex gap-1.5 border-t border-rule pt-2">
        <Small onClick={() => set({ library: true })} hint="Figures, growth, boats to lay in (A)" keyCap="A">Library</Small>
        <Small onClick={acts.addGround} hint="One colour, or a run of two, under all layers">Ground</Small>
        <FilesButton onFiles={acts.addFiles} />
      </div>
      <LayerList stack={stack} canvases={canvases} onEdit={hand.edit} onOrder={acts.order} />
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-rule pt-2 text-[13px] font-semibold text-teal">
        {hand.view && <a href={stackFile(hand.view.id)} download title="All layers as an OpenRaster file">Layers (OpenRaster)</a>}
        {hand.view && <a href={stackWhole(hand.view.id)} download="hand.png" title="The whole with its transparency">PNG</a>}
        {source && <button type="button" className="font-semibold" title={`White near, black far: this picture leads the depth of ${source.name}`} onClick={() => acts.asDepthOf(source.id, source.name)}>As depth of {source.name.slice(0, 24)}</button>}
      </div>
    </aside>
  );
}

function Selected({ acts }: { acts: Acts }) {
  return (
    <section aria-label="Selection" className="flex flex-col gap-2 border-t border-rule pt-2">
      <div className="flex flex-wrap gap-1.5">
        <Small onClick={acts.fill} hint="Fill it from what is around it (F)" keyCap="F">Fill from around</Small>
        <Small onClick={() => acts.cut("subject")} hint="Cut out what you drew round, with a soft edge (X)" keyCap="X">Cut out</Small>
        {acts.layer && <Small onClick={() => acts.maskBy(true)} hint="The picked layer is seen only there; nothing of it is lost">Only there</Small>}
        {acts.layer && <Small onClick={() => acts.maskBy(false)} hint="The picked layer is not seen there; nothing of it is lost (W)" keyCap="W">Not there</Small>}
        <Small onClick={() => acts.copySelection()} hint="As a layer of its own (D)" keyCap="D">Copy to layer</Small>
        <Small onClick={acts.invert} hint="Selected and not selected exchanged (N)" keyCap="N">Exchange</Small>
        <Small onClick={() => acts.grow(2)} hint="2 px wider">Wider</Small>
        <Small onClick={() => acts.grow(-2)} hint="2 px narrower">Narrower</Small>
        <Small onClick={() => acts.soften(6)} hint="Its edge fades over 6 px">Softer</Small>
        <Small onClick={acts.clear} hint="Select nothing (Esc)">Nothing</Small>
      </div>
    </section>
  );
}

function Small({ children, hint, keyCap, onClick }: { children: string; hint: string; keyCap?: string; onClick: () => void }) {
  return (
    <Button className="h-7 px-2 text-[13px]" title={hint} onClick={onClick}>
      {children} {keyCap && <KeyCap>{keyCap}</KeyCap>}
    </Button>
  );
}

function FilesButton({ onFiles }: { onFiles: (files: File[]) => void }) {
  return (
    <label className="inline-flex h-7 cursor-pointer items-center rounded-md border border-rule bg-sheet px-2 text-[13px] font-semibold hover:border-faint" title="Pictures from files, with their transparency; dropping them does the same">
      File…
      <input type="file" multiple accept="image/*,.svg" className="sr-only" onChange={(event) => (onFiles([...(event.target.files ?? [])]), (event.target.value = ""))} />
    </label>
  );
}

const NUMBERS: [keyof Place & ("x" | "y" | "width" | "height" | "turn"), string][] = [["x", "across"], ["y", "down"], ["width", "wide"], ["height", "high"], ["turn", "turned"]];

/** Where a layer lies, in numbers that can be typed; its shape is kept. */
function Where({ place, locked, onPlace }: { place: Place; locked: boolean; onPlace: (place: Place) => void }) {
  const set = (name: (typeof NUMBERS)[number][0], value: number) => {
    const shape = place.width / place.height;
    if (name === "width") onPlace({ ...place, width: value, height: value / shape });
    else if (name === "height") onPlace({ ...place, height: value, width: value * shape });
    else onPlace({ ...place, [name]: value });
  };
  return (
    <div className={`grid grid-cols-2 gap-x-4 text-[13px] ${locked ? "pointer-events-none opacity-50" : ""}`}>
      {NUMBERS.map(([name, title]) => (
        <label key={name} className="flex items-center justify-between gap-1">
          <span className="text-faint">{title}</span>
          <NumberField label={`Layer ${title}`} value={place[name] ?? 0} digits={0} onCommit={(value) => (name === "x" || name === "y" || name === "turn" || value > 0) && set(name, value)} />
        </label>
      ))}
    </div>
  );
}

/** Both colours of a ground. */
function GroundColours({ ground, onGround }: { ground: NonNullable<Layer["ground"]>; onGround: (ground: NonNullable<Layer["ground"]>) => void }) {
  const field = (name: "top" | "bottom", title: string) => (
    <label className="flex items-center gap-1.5 text-[13px] text-faint">
      {title} <input type="color" value={ground[name]} onChange={(event) => onGround({ ...ground, [name]: event.target.value })} className="h-7 w-9 rounded border border-rule bg-sheet p-0.5" />
    </label>
  );
  return <div className="flex gap-3">{field("top", "above")}{field("bottom", "below")}</div>;
}
