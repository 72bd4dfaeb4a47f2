import { SlidersHorizontal } from "lucide-react";
import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { offeredBy } from "../../primitives/engines";
import { changedFrom } from "../../primitives/differs";
import type { Band } from "../../study/band";
import { CONTROLS, infoOf, inDrawer, labelOf, valueIn, type Control } from "../../study/controls";
import { useLabels } from "../../study/useLabels";
import { useToHand } from "../../study/useToHand";
import { useDeskView } from "../../study/view";
import { KeyCap } from "../../ui/Button";
import { BandGauge } from "./BandGauge";
import { BandList } from "./BandList";
import type { DrawerProps } from "./Drawer";

/** Choices whose own gauge can be opened from a chip; the look has its button, words have their field. */
const LISTS = ["engine", "size", "quality", "sampler"] as const;

interface Told {
  name: string;
  words: string;
  stretched: boolean;
}

/** What in the drawer is stretched, or is not as this study begins, in words. */
function toldOf(band: Band, beginning: Band["recipe"], labels: ReturnType<typeof useLabels>): Told[] {
  const numbers = CONTROLS.map((info) => info.control).filter((control) => inDrawer(control) && control !== "second_share");
  const changed = changedFrom(beginning as Record<string, unknown>, band.recipe as Record<string, unknown>, [...numbers, ...LISTS]);
  const amounts = numbers.flatMap((control): Told[] => {
    const span = band.spans[control];
    const name = infoOf(control)!.label.replace(/^Hold /, "").toLowerCase();
    if (span) return [{ name: control, words: `${name} ${labelOf(control, span.from)} to ${labelOf(control, span.to)}`, stretched: true }];
    return changed.includes(control) ? [{ name: control, words: `${name} ${labelOf(control, valueIn(band.recipe, control))}`, stretched: false }] : [];
  });
  const lists = LISTS.flatMap((control): Told[] => {
    const ticked = band.lists?.[control] ?? [];
    if (ticked.length > 1) return [{ name: control, words: `${control} ${ticked.map((v) => labels(control, v)).join(", ")}`, stretched: true }];
    return changed.includes(control) ? [{ name: control, words: `${control} ${labels(control, band.recipe[control] ?? "").toLowerCase()}`, stretched: false }] : [];
  });
  return [...amounts, ...lists];
}

const CHIP = "flex h-5 shrink-0 items-center gap-1 rounded-full border px-2 text-xs whitespace-nowrap";
const PLAIN = `${CHIP} border-rule bg-sheet hover:border-faint`;

/** The line under the band's row: opens the drawer, and shows what in it is not as this study begins. */
export function Chips(props: DrawerProps & { children?: ReactNode }) {
  const { studyId, band, source, sources, choices, edit } = props;
  const { over, toggle, show } = useDeskView();
  const toHand = useToHand(studyId);
  const labels = useLabels();
  const { recipe } = band;
  const { looks } = offeredBy(choices, recipe.engine);
  const second = looks.find((l) => l.name === recipe.second_look);
  const share = recipe.second_share ?? 0;
  const swept = band.lists?.source?.length ?? 0;
  const look = looks.find((l) => l.name === recipe.look);
  return (
    <div className="flex h-6 items-center gap-1.5">
      <button type="button" aria-expanded={over === "drawer"} title="Every control (.)" onClick={() => toggle("drawer")} className={`flex h-5 shrink-0 items-center gap-1.5 rounded px-1.5 text-xs font-semibold ${over === "drawer" ? "bg-glow text-amber" : "hover:bg-glow"}`}>
        <SlidersHorizontal size={13} /> All controls <KeyCap>.</KeyCap>
      </button>
      <div aria-label="Not as it began" role="group" className="flex min-w-0 flex-1 items-center gap-1.5 overflow-x-auto [scrollbar-width:none]">
        {toldOf(band, source.begin, labels).map(({ name, words, stretched }) => (
          <Popover.Root key={name}>
            <Popover.Trigger data-chip={name} className={stretched ? `${CHIP} border-amber bg-glow font-semibold text-amber` : PLAIN}>{words}</Popover.Trigger>
            <Popover.Portal>
              <Popover.Content align="start" sideOffset={6} aria-label={words} className="z-40 w-[280px] rounded-lg border border-rule bg-paper p-3 text-ink shadow-xl focus-visible:!outline-none">
                {(LISTS as readonly string[]).includes(name) ? <BandList control={name as (typeof LISTS)[number]} {...props} /> : <BandGauge control={name as Control} id={`chip-${name}`} source={source} band={band} edit={edit} />}
              </Popover.Content>
            </Popover.Portal>
          </Popover.Root>
        ))}
        {props.plan?.lacks.map((sentence) => <Lacking key={sentence} sentence={sentence} />)}
        {second && share > 0 && <Opens onOpen={() => show({ over: "looks" })} tone="text-teal">with {Math.round(share * 100)} % {second.title.toLowerCase()}</Opens>}
        {recipe.avoid && <Opens onOpen={() => show({ over: "drawer" })}>avoid {recipe.avoid}</Opens>}
        {swept > 1 && <Opens onOpen={() => show({ over: "drawer" })} tone="text-amber font-semibold">{swept} of {sources.length} sources</Opens>}
        {source.region_key && <Opens onOpen={() => toHand("region")} tone="text-teal">in a region</Opens>}
        {source.subject_key && <Opens onOpen={() => toHand("subject")} tone="text-teal">subject mended</Opens>}
        {source.faces_key && <Opens onOpen={() => toHand("faces")} tone="text-teal">faces marked</Opens>}
        {look && !look.kinds.includes(source.kind) && <Opens onOpen={() => show({ over: "looks" })} tone="text-fault">not made for {source.kind === "flat art" ? "flat art" : `a ${source.kind}`}</Opens>}
      </div>
      {props.children}
    </div>
  );
}

/** What an engine lacks of what the band asks for: as much as there is room for, and all of it on a click. */
function Lacking({ sentence }: { sentence: string }) {
  return (
    <Popover.Root>
      <Popover.Trigger title={sentence} className={`${PLAIN} max-w-[300px] !shrink text-fault`}><span className="truncate">{sentence}</span></Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="start" sideOffset={6} className="z-40 max-w-[360px] rounded-lg border border-rule bg-paper p-3 text-ink shadow-xl">{sentence} What it lacks is left out of its takes.</Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

/** A chip that leads to where its value is changed. */
function Opens({ onOpen, tone = "", children }: { onOpen: () => void; tone?: string; children: ReactNode }) {
  return <button type="button" onClick={onOpen} className={`${PLAIN} max-w-[260px] ${tone}`}><span className="truncate">{children}</span></button>;
}
