import { ArrowLeft } from "lucide-react";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";
import { takePreview, type Choices, type StudyView } from "../../api/client";
import { useFinishChoices } from "../../api/finish";
import { useKeys } from "../../common/keys";
import { readOf, writeOf, type Of } from "../../primitives/finish";
import { counted } from "../../primitives/words";
import { Picker } from "../../ui/Picker";
import { Files } from "./Files";
import { Larger } from "./Larger";
import { Traced } from "./Traced";
import { picturesOf, type Pictured } from "./pictures";

const PARTS = ["larger", "traced", "files"] as const;
type Part = (typeof PARTS)[number];
const TITLES: Record<Part, string> = { larger: "Larger", traced: "Traced", files: "Files" };

/** What is done with a take once it is found: larger, traced, taken away. Over Desk and Bench, and back to where it was opened. */
export function FinishPlace({ study, choices }: { study: StudyView; choices: Choices }) {
  const navigate = useNavigate();
  const [address, setAddress] = useSearchParams();
  const offered = useFinishChoices();
  const of = readOf(address.get("of"));
  const part = PARTS.find((name) => name === address.get("do")) ?? "larger";
  const pictures = picturesOf(study, choices, of);
  const [shown, setShown] = useState<string | null>(null);
  const first = pictures.find((picture) => picture.of.id === shown) ?? pictures[0];
  const go = (to: Part) => setAddress((now) => ({ ...Object.fromEntries(now), do: to }), { replace: true });
  const change = (next: Of[]) => setAddress((now) => ({ ...Object.fromEntries(now), of: writeOf(next) }), { replace: true });
  const back = () => void (window.history.length > 1 ? navigate(-1) : navigate(`/study/${study.id}`));
  useKeys({ 1: () => go("larger"), 2: () => go("traced"), 3: () => go("files"), Escape: back });

  if (offered.error) return <p role="alert" className="p-8 text-fault">{offered.error.message}</p>;
  if (!offered.data) return <p className="p-8 text-faint">Opening…</p>;
  if (!first) {
    return (
      <div className="flex flex-1 flex-col items-center justify-center gap-3">
        <p>Nothing is picked. Pick a finished take on the sheet, or choose several, then press Shift S.</p>
        <Which study={study} of={of} onChange={change} />
      </div>
    );
  }
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex h-10 shrink-0 items-center gap-3 border-b border-rule bg-paper px-3">
        <button type="button" aria-label="Back" title="Back (Esc)" onClick={back} className="rounded p-1 text-faint hover:bg-glow hover:text-ink"><ArrowLeft size={16} /></button>
        <nav aria-label="What becomes of it" className="flex gap-1">
          {PARTS.map((name, k) => (
            <button key={name} type="button" aria-current={name === part ? "page" : undefined} title={`${TITLES[name]} (${k + 1})`} onClick={() => go(name)} className="rounded-md px-3 py-1 font-semibold text-faint hover:text-ink aria-[current]:bg-glow aria-[current]:text-ink">
              {TITLES[name]}
            </button>
          ))}
        </nav>
        <div className="w-56"><Which study={study} of={of} onChange={change} /></div>
        {pictures.length > 1 && <Row pictures={pictures} shown={first} onShow={setShown} />}
      </div>
      {part === "larger" && <Larger study={study} pictures={pictures} first={first} choices={offered.data} key={`${first.of.kind}${first.of.id}`} />}
      {part === "traced" && <Traced first={first} key={`${first.of.kind}${first.of.id}`} />}
      {part === "files" && <Files study={study} pictures={pictures} first={first} choices={offered.data} />}
    </div>
  );
}

/** Which pictures: those it was opened with, those that are kept, the source. */
function Which({ study, of, onChange }: { study: StudyView; of: Of[]; onChange: (of: Of[]) => void }) {
  const done = new Set(study.sweeps.flatMap((sweep) => sweep.takes).filter((take) => take.state === "done").map((take) => take.id));
  const kept = study.marks.filter((mark) => mark.value === "keep" && done.has(mark.take_id)).map((mark) => ({ kind: "take" as const, id: mark.take_id }));
  const source = study.sources.at(-1);
  const [opened] = useState(of);
  const sets: { value: string; title: string; of: Of[] }[] = [
    { value: "opened", title: opened[0]?.kind === "source" ? "the source" : counted(opened.length, "take"), of: opened },
    { value: "kept", title: `all ${kept.length} kept`, of: kept },
    { value: "source", title: "the source itself", of: source ? [{ kind: "source" as const, id: source.id }] : [] },
  ].filter((set) => set.of.length > 0);
  const now = sets.find((set) => writeOf(set.of) === writeOf(of))?.value ?? sets[0]?.value ?? "";
  if (!sets.length) return null;
  return <Picker label="Which pictures" value={now} options={sets.map((set) => ({ value: set.value, title: set.title, detail: "" }))} onPick={(value) => onChange(sets.find((set) => set.value === value)!.of)} />;
}

function Row({ pictures, shown, onShow }: { pictures: Pictured[]; shown: Pictured; onShow: (id: string) => void }) {
  return (
    <div className="flex min-w-0 flex-1 gap-1 overflow-x-auto" role="group" aria-label="Shown">
      {pictures.map((picture) => (
        <button key={picture.of.id} type="button" aria-pressed={picture.of.id === shown.of.id} title={picture.label} onClick={() => onShow(picture.of.id)} className="h-8 shrink-0 overflow-hidden rounded border-2 border-transparent aria-pressed:border-amber">
          <img src={picture.of.kind === "take" ? takePreview(picture.of.id) : picture.src} alt={picture.label} className="h-full" />
        </button>
      ))}
    </div>
  );
}
