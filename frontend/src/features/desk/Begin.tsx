import type { Choices, Kind, StudyView } from "../../api/client";
import { useKind } from "../../api/queries";
import { sayFault } from "../../common/notices";
import { Picker } from "../../ui/Picker";

/** Over a new study: what the picture is, and what to do first. */
export function Begin({ study, choices }: { study: StudyView; choices: Choices }) {
  const source = study.sources.at(-1)!;
  const kind = useKind(study.id);
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1 px-4 pt-1.5 text-[13px]">
      <span className="font-semibold">
        {source.name}, {source.width} × {source.height}
      </span>
      <span className="flex items-center gap-1.5" title="A guess: it decides which looks come first and where the holds begin">
        Looks like
        <span className="w-[108px]">
          <Picker
            over
            label="Kind of picture"
            value={source.kind}
            options={choices.kinds.map((name) => ({ value: name, title: name, detail: "" }))}
            onPick={(name) => kind.mutate({ sourceId: source.id, kind: name as Kind }, { onError: sayFault })}
          />
        </span>
      </span>
      {(source.notes ?? []).map((note) => <span key={note}>{note}</span>)}
      <span className="ml-auto">The draft follows every control; Run makes the takes.</span>
    </div>
  );
}
