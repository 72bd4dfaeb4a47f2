import { ImagePlus, Trash2 } from "lucide-react";
import { useRef, useState, type PointerEvent } from "react";
import { Link } from "react-router";
import { sourceImage, takePreview, type StudyCard } from "../../api/client";
import { useDeleteStudy, useDisk, useRestoreStudy, useStudies } from "../../api/queries";
import { useQueue } from "../../api/queue";
import { sayFault, useNotices } from "../../common/notices";
import { roomWords, takesWords } from "../../primitives/shelf";
import { disk as size } from "../../primitives/words";
import { Button } from "../../ui/Button";

/** The studies, each shown as its source turning into its best take. */
export function Shelf({ onFiles, onBlockIn }: { onFiles: (files: File[]) => void; onBlockIn: () => void }) {
  const waiting = useQueue().data ?? [];
  const studies = useStudies(waiting.length > 0);
  const disk = useDisk().data;
  const input = useRef<HTMLInputElement>(null);
  return (
    <main className="min-h-0 flex-1 overflow-y-auto px-8 py-6">
      <div className="mx-auto max-w-[1180px]">
        <section className="mb-6 flex items-center gap-6 rounded-xl border-2 border-dashed border-rule bg-sheet px-6 py-5">
          <ImagePlus size={30} className="text-teal" aria-hidden />
          <div className="flex-1">
            <h1 className="text-lg font-semibold">Drop a picture anywhere to begin a study</h1>
            <p className="text-faint">A photo, a sketch, a render or a logo: PNG, JPEG, WebP, TIFF, AVIF or SVG. Paste works too.</p>
          </div>
          <Button weight="main" onClick={() => input.current?.click()}>
            Choose pictures
          </Button>
          <Button onClick={onBlockIn} title="No picture? Place a few coloured areas">
            Block one in
          </Button>
          <input
            ref={input}
            type="file"
            aria-label="Choose a picture file"
            multiple
            accept=".png,.jpg,.jpeg,.webp,.tif,.tiff,.avif,.svg,.gif,.bmp"
            className="sr-only"
            tabIndex={-1}
            onChange={(event) => {
              onFiles([...(event.target.files ?? [])]);
              event.target.value = "";
            }}
          />
        </section>
        {studies.isPending && <p className="text-faint">Reading the shelf…</p>}
        {studies.error && (
          <p role="alert" className="text-fault">
            {studies.error.message} <Button onClick={() => void studies.refetch()}>Try again</Button>
          </p>
        )}
        <ul className="m-0 grid list-none grid-cols-[repeat(auto-fill,minmax(264px,1fr))] gap-5 p-0">
          {studies.data?.map((study) => (
            <Card
              key={study.id}
              study={study}
              bytes={disk?.studies.find((found) => found.study_id === study.id)?.bytes}
              left={waiting.filter((sweep) => sweep.study_id === study.id).reduce((sum, sweep) => sum + sweep.total - sweep.done - sweep.failed, 0)}
            />
          ))}
        </ul>
        {studies.data?.length === 0 && <p className="text-faint">The shelf is empty. Your first picture starts it.</p>}
        {disk && <p className="mt-6 text-xs text-faint">{roomWords(disk)}</p>}
      </div>
    </main>
  );
}

function Card({ study, bytes, left }: { study: StudyCard; bytes?: number; left: number }) {
  const remove = useDeleteStudy();
  const restore = useRestoreStudy();
  const forget = () =>
    remove.mutate(study.id, {
      onSuccess: () => useNotices.getState().say(`Deleted: ${study.name}.`, false, { title: "Take it back", act: () => restore.mutate(study.id, { onError: sayFault }) }),
      onError: sayFault,
    });
  return (
    <li className="group relative overflow-hidden rounded-lg border border-rule bg-sheet">
      <Link to={`/study/${study.id}`} className="block text-ink no-underline">
        <Turning study={study} />
        <div className="px-3 pt-2 pb-2.5">
          <div className="truncate font-semibold">{study.name}</div>
          <div className="flex items-center gap-2 text-xs text-faint">
            {takesWords(study.takes, study.kept, left)}
            {bytes !== undefined && <span title="On the disk">{size(bytes)}</span>}
            {study.demo && <span className="ml-auto rounded bg-shoal px-1.5 text-teal">demo</span>}
          </div>
        </div>
      </Link>
      <button
        type="button"
        aria-label={`Delete ${study.name}`}
        title="Delete; it can be taken back"
        onClick={forget}
        className="absolute top-2 right-2 rounded-md bg-sheet/90 p-1.5 text-faint opacity-0 group-hover:opacity-100 hover:text-fault focus-visible:opacity-100"
      >
        <Trash2 size={15} />
      </button>
    </li>
  );
}

/** Source at the left, best take at the right; the border follows the pointer. */
function Turning({ study }: { study: StudyCard }) {
  const [at, setAt] = useState(0.5);
  const follow = (event: PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    setAt((event.clientX - box.left) / box.width);
  };
  const picture = "absolute inset-0 h-full w-full object-contain";
  return (
    <div className="relative aspect-[3/2] overflow-hidden bg-mid" onPointerMove={follow} onPointerLeave={() => setAt(0.5)}>
      {study.source && <img src={sourceImage(study.source, 512)} alt="" className={picture} draggable={false} />}
      {study.best_take && (
        <>
          <img src={takePreview(study.best_take)} alt="" draggable={false} className={picture} style={{ clipPath: `inset(0 0 0 ${at * 100}%)` }} />
          <span className="absolute inset-y-0 w-px bg-white/80" style={{ left: `${at * 100}%` }} />
        </>
      )}
    </div>
  );
}
