import { ImagePlus } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { useDisk } from "../../api/queries";
import { useQueue } from "../../api/queue";
import { useShelf, type ShelfAsked } from "../../api/shelf";
import { useKeys } from "../../common/keys";
import { useDebounced } from "../../common/useDebounced";
import { ALL, askedOf, isAsked, roomWords } from "../../primitives/shelf";
import { Button } from "../../ui/Button";
import { Card } from "./Card";
import { Finding } from "./Finding";

/** Milliseconds that a hand rests before what it typed is looked for. */
const RESTS = 200;

/** The studies, each shown as its source turning into its best take. */
export function Shelf({ onFiles, onBlockIn }: { onFiles: (files: File[]) => void; onBlockIn: () => void }) {
  const waiting = useQueue().data ?? [];
  const [found, setFound] = useState(ALL);
  const rested = useDebounced(found, RESTS);
  // A day is long enough for a page that stays open.
  const asked = useMemo<ShelfAsked>(() => askedOf(rested, new Date()), [rested]);
  const studies = useShelf(asked, waiting.length > 0);
  const cards = studies.data?.pages.flatMap((page) => page.cards);
  const total = studies.data?.pages.at(-1)?.total;
  const disk = useDisk().data;
  const navigate = useNavigate();
  useKeys({ w: (event) => event.shiftKey && void navigate("/wall") });
  const input = useRef<HTMLInputElement>(null);
  return (
    <main className="min-h-0 flex-1 overflow-y-auto px-8 py-6">
      <div className="mx-auto max-w-[1180px]">
        <section className="mb-6 flex items-center gap-6 rounded-xl border-2 border-dashed border-rule bg-sheet px-6 py-5">
          <ImagePlus size={30} className="text-teal" aria-hidden />
          <div className="flex-1">
            <h1 className="text-lg font-semibold">Drop a picture anywhere to begin a study</h1>
            <p className="text-faint">A photo, a sketch, a render or a logo: PNG, JPEG, WebP, TIFF, AVIF or SVG. Paste works too, and a saved study comes back.</p>
          </div>
          <Button weight="main" onClick={() => input.current?.click()}>
            Choose pictures
          </Button>
          <Link to="/wall" className="inline-flex h-8 items-center rounded-md border border-rule bg-sheet px-3 font-semibold text-ink no-underline hover:border-faint" title="What was kept in all studies, side by side (Shift W)">Wall</Link>
          <Button onClick={onBlockIn} title="No picture? Place a few coloured areas">
            Block one in
          </Button>
          <input
            ref={input}
            type="file"
            aria-label="Choose a picture file"
            multiple
            accept=".png,.jpg,.jpeg,.webp,.tif,.tiff,.avif,.svg,.gif,.bmp,.zip"
            className="sr-only"
            tabIndex={-1}
            onChange={(event) => {
              onFiles([...(event.target.files ?? [])]);
              event.target.value = "";
            }}
          />
        </section>
        {(isAsked(found) || (total ?? 0) > 0) && <Finding asked={found} total={total} onAsk={(part) => setFound((now) => ({ ...now, ...part }))} />}
        {studies.isPending && <p className="text-faint">Reading the shelf…</p>}
        {studies.error && (
          <p role="alert" className="text-fault">
            {studies.error.message} <Button onClick={() => void studies.refetch()}>Try again</Button>
          </p>
        )}
        <ul className="m-0 grid list-none grid-cols-[repeat(auto-fill,minmax(264px,1fr))] gap-5 p-0">
          {cards?.map((study) => (
            <Card
              key={study.id}
              study={study}
              bytes={disk?.studies.find((found) => found.study_id === study.id)?.bytes}
              left={waiting.filter((sweep) => sweep.study_id === study.id).reduce((sum, sweep) => sum + sweep.total - sweep.done - sweep.failed, 0)}
            />
          ))}
        </ul>
        {cards?.length === 0 && <p className="text-faint">{isAsked(rested) ? "Nothing is found so. Fewer words find more." : "The shelf is empty. Your first picture starts it."}</p>}
        {studies.hasNextPage && <Button className="mt-5" disabled={studies.isFetchingNextPage} onClick={() => void studies.fetchNextPage()}>Show more of {total}</Button>}
        {disk && <p className="mt-6 text-xs text-faint">{roomWords(disk)}</p>}
      </div>
    </main>
  );
}
