import { ArrowRight, Download, Plus } from "lucide-react";
import { Fragment } from "react";
import { stripFile, useStrip } from "../../api/lineage";

const FORMS = [["png", "PNG"], ["pdf", "PDF"], ["txt", "Text"]] as const;

interface Props {
  studyId: string;
  /** The picture whose way it is. */
  of: string | null;
  seen: string;
  onPick: (id: string) => void;
}

/** The way to one picture: its steps side by side, what changed under each. */
export function Strip({ studyId, of, seen, onPick }: Props) {
  const strip = useStrip(studyId, of, seen);
  return (
    <section aria-label="The way to the picture" className={`flex ${of === null ? "h-10" : "h-[186px]"} shrink-0 gap-3 border-t border-rule bg-paper px-3 py-2`}>
      {of === null && <p className="self-center text-faint">Pick a picture: the way that led to it stands here.</p>}
      {strip.error && <p role="alert" className="self-center text-fault">{strip.error.message}</p>}
      {strip.data && (
        <>
          <ol className="m-0 flex min-w-0 flex-1 list-none items-start gap-1 overflow-x-auto p-0">
            {strip.data.steps.map((step, k) => (
              <Fragment key={step.id}>
                {k > 0 && (step.parents.includes(strip.data.steps[k - 1]!.id) ? <ArrowRight size={16} className="mt-12 shrink-0 text-faint" aria-label="then" /> : <Plus size={16} className="mt-12 shrink-0 text-faint" aria-label="and" />)}
                <li className="w-[124px] shrink-0">
                  <button type="button" onClick={() => onPick(step.id)} title={[step.title, ...step.says].join("\n")} className="block w-full text-left">
                    {step.at && <img src={step.at} alt="" className="h-[104px] w-full rounded bg-mid object-contain" draggable={false} />}
                    <span className="block truncate text-[13px] leading-4 font-semibold">{k + 1}. {step.title}</span>
                    <span className="line-clamp-3 text-[12px] leading-[14px] text-faint">{step.says.join(", ")}</span>
                  </button>
                </li>
              </Fragment>
            ))}
          </ol>
          <div className="flex shrink-0 flex-col gap-1">
            <span className="text-[13px] text-faint">How it was made</span>
            {FORMS.map(([form, title]) => (
              <a key={form} href={stripFile(studyId, of!, form)} download className="flex h-7 items-center gap-1.5 rounded-md border border-rule bg-sheet px-2 font-semibold text-ink no-underline hover:border-faint">
                <Download size={14} /> {title}
              </a>
            ))}
          </div>
        </>
      )}
    </section>
  );
}
