import { ChevronLeft, ChevronRight, Download, RotateCwSquare } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { sweepExport, type Choices, type StudyView, type SweepView } from "../../api/client";
import type { Spot } from "../../primitives/spot";
import { counted } from "../../primitives/words";
import { Button, KeyCap } from "../../ui/Button";
import { OVER } from "../../ui/over";
import { Picker } from "../../ui/Picker";
import { sortsOf } from "../../primitives/arrange";
import { toldOf } from "../../primitives/reading";
import { axisName } from "../../study/controls";
import { useLabels } from "../../study/useLabels";
import { useCellWidth } from "./cellWidth";
import { History } from "./History";
import { SHOWS, type Show } from "../../study/show";
import type { SheetState } from "../../study/useSheet";

interface Props {
  study: StudyView;
  sweep: SweepView;
  choices: Choices;
  reading: boolean;
  spot: Spot | null;
  sheet: SheetState;
  onSpot: () => void;
  onSweep: (id: string) => void;
  onReading: () => void;
  onLive: () => void;
  onAgain: (sweep: SweepView) => void;
  onMissing: () => void;
}

/** Over the sheet: which sweep it shows and how, and what can be taken away of it. */
export function SheetHead({ study, sweep, choices, reading, spot, sheet, onSpot, onSweep, onReading, onLive, onAgain, onMissing }: Props) {
  const labelOf = useLabels();
  const { pages } = sheet.arranged;
  const missing = sweep.takes.filter((t) => t.state === "failed" || t.state === "stopped").length;
  return (
    <div role="toolbar" aria-label="Sheet" className="flex h-8 shrink-0 items-center gap-x-1.5 px-3 text-[13px]">
      <div className="min-w-[90px] flex-1 truncate">
        <History study={study} sweep={sweep} choices={choices} onSweep={onSweep} onAgain={onAgain} />
      </div>
      {pages && (
        <div role="group" aria-label={`Pages: ${axisName(pages.control)}`} className="flex h-6 min-w-0 items-center rounded-md bg-black/25">
          <button type="button" aria-label="Page before" title="Page before (PageUp)" disabled={sheet.page === 0} onClick={() => sheet.setPage(sheet.page - 1)} className="px-1 disabled:opacity-40"><ChevronLeft size={15} /></button>
          <span className="max-w-[130px] truncate font-semibold" data-testid="page">
            {axisName(pages.control)} {labelOf(pages.control, pages.values[sheet.page]!, pages.values)}
          </span>
          <span className="px-1 text-xs">{sheet.page + 1}/{sheet.pageCount}</span>
          <button type="button" aria-label="Next page" title="Next page (PageDown)" disabled={sheet.page >= sheet.pageCount - 1} onClick={() => sheet.setPage(sheet.page + 1)} className="px-1 disabled:opacity-40"><ChevronRight size={15} /></button>
        </div>
      )}
      <div className="w-[104px] shrink-0">
        <Picker over label="Takes shown" value={sheet.show} options={SHOWS} onPick={(value) => sheet.setShow(value as Show)} />
      </div>
      <div className="w-[124px] shrink-0">
        <Picker over label="Order of takes" value={sheet.sort} options={sortsOf(toldOf(choices.readings, sweep.takes))} onPick={sheet.setSort} />
      </div>
      <FitCells />
      {sheet.arranged.kind === "matrix" && (
        <Button weight="over" aria-label="Turn the sheet" aria-pressed={sheet.turned} title="Turn the sheet: rows become columns (Shift Y)" onClick={sheet.turn}>
          <RotateCwSquare size={15} />
        </Button>
      )}
      {missing > 0 && (
        <Button weight="over" title="Takes that failed or were stopped, with the same settings" onClick={onMissing}>
          Run {counted(missing, "missing take")}
        </Button>
      )}
      <Button weight="over" aria-pressed={spot !== null} title="The same spot of every take enlarged: point and press E; drag moves them all, the wheel zooms (E)" onClick={onSpot}>
        {spot ? `Spot at ${spot.zoom * 100} %` : "Same spot"} <KeyCap over>E</KeyCap>
      </Button>
      <Button weight="over" aria-pressed={reading} title="Readings in the cells (V)" onClick={onReading}>
        Readings <KeyCap over>V</KeyCap>
      </Button>
      <Button weight="over" title="Source and a draft that follows every control (L)" onClick={onLive}>
        Live <KeyCap over>L</KeyCap>
      </Button>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger aria-label="Save the sheet" title="Save the sheet" className={`inline-flex h-6 items-center rounded-md px-2 ${OVER}`}>
          <Download size={15} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" sideOffset={4} className="z-40 rounded-lg border border-rule bg-sheet p-1 text-ink shadow-xl">
            {choices.exports.map(({ name, title, says }) => (
              <DropdownMenu.Item key={name} asChild>
                <a href={sweepExport(sweep.id, name)} download className="flex cursor-pointer flex-col rounded px-3 py-1.5 text-ink no-underline outline-none data-[highlighted]:bg-glow">
                  {title}
                  <span className="text-xs text-faint">{says}</span>
                </a>
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  );
}

function FitCells() {
  const { wide, setWide } = useCellWidth();
  if (wide === null) return null;
  return (
    <Button weight="over" title="Cells as large as the room allows" onClick={() => setWide(null)}>
      Fit
    </Button>
  );
}
