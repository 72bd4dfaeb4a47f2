import type { SheetWish } from "../../api/finish";
import type { Of } from "../../primitives/finish";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { Picker } from "../../ui/Picker";
import { saveSheet } from "./save";
import { useFinishSettings } from "./settings";

const PAPERS = [["a4", "A4"], ["a3", "A3"], ["a5", "A5"], ["letter", "Letter"], ["tabloid", "Tabloid"]] as const;
const SAID = [["labels", "labels"], ["readings", "readings"], ["recipes", "recipes"]] as const;
const MOST_COLUMNS = 10;

/** The same pictures on a contact sheet. */
export function SheetPart({ of, study }: { of: Of[]; study: string }) {
  const { sheet, set } = useFinishSettings();
  const change = (part: Partial<SheetWish>) => set({ sheet: { ...sheet, ...part } });
  const save = (form: "pdf" | "png") => saveSheet({ of, form, wish: { ...sheet, title: sheet.title ? study.slice(0, 200) : "" } });
  return (
    <section aria-label="Contact sheet" className="flex flex-col gap-1.5 border-t border-rule pt-2.5">
      <h2 className="font-semibold">Contact sheet</h2>
      <div className="flex items-center gap-2">
        <span className="w-24"><Picker label="Paper" value={sheet.paper} options={PAPERS.map(([value, title]) => ({ value, title, detail: "" }))} onPick={(paper) => change({ paper: paper as SheetWish["paper"] })} /></span>
        <label className="flex items-center gap-1"><input type="checkbox" className="accent-amber" checked={sheet.landscape} onChange={() => change({ landscape: !sheet.landscape })} /> lying</label>
        <NumberField label="Columns of the sheet" value={sheet.columns} digits={0} width="w-8" onCommit={(value) => change({ columns: Math.min(Math.max(Math.round(value), 1), MOST_COLUMNS) })} /> columns
      </div>
      <div className="flex flex-wrap gap-x-3">
        <label className="flex items-center gap-1"><input type="checkbox" className="accent-amber" checked={sheet.title !== ""} onChange={() => change({ title: sheet.title ? "" : "study" })} /> title</label>
        {SAID.map(([name, title]) => <label key={name} className="flex items-center gap-1"><input type="checkbox" className="accent-amber" checked={sheet[name]} onChange={() => change({ [name]: !sheet[name] })} /> {title}</label>)}
      </div>
      <div className="flex gap-1.5">
        <Button onClick={() => save("pdf")}>Sheet as PDF</Button>
        <Button onClick={() => save("png")}>Sheet as PNG</Button>
      </div>
    </section>
  );
}
