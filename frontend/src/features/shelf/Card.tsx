import { Archive, ArchiveRestore, Copy, Download, MoreHorizontal, Pencil, Trash2 } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useState, type PointerEvent, type ReactNode } from "react";
import { Link } from "react-router";
import { sourceImage, takePreview, type StudyCard } from "../../api/client";
import { useDeleteStudy, useRestoreStudy } from "../../api/queries";
import { studyFile, useChangeStudy, useCopyStudy } from "../../api/shelf";
import { sayFault, useNotices } from "../../common/notices";
import { takesWords } from "../../primitives/shelf";
import { disk as size } from "../../primitives/words";

/** A study on the shelf: its source turning into its best take, its name, what can be done with it. */
export function Card({ study, bytes, left }: { study: StudyCard; bytes?: number; left: number }) {
  const [naming, setNaming] = useState(false);
  return (
    <li className="group relative overflow-hidden rounded-lg border border-rule bg-sheet">
      <Link to={`/study/${study.id}`} className="block text-ink no-underline" aria-label={study.name}>
        <Turning study={study} />
      </Link>
      <div className="px-3 pt-2 pb-2.5">
        {naming ? <Name study={study} onDone={() => setNaming(false)} /> : <Link to={`/study/${study.id}`} tabIndex={-1} aria-hidden className="block truncate font-semibold text-ink no-underline">{study.name}</Link>}
        <div className="flex items-center gap-2 text-xs text-faint">
          {takesWords(study.takes, study.kept, left)}
          {bytes !== undefined && <span title="On the disk">{size(bytes)}</span>}
          {study.demo && <span className="ml-auto rounded bg-shoal px-1.5 text-teal">demo</span>}
        </div>
      </div>
      <Acts study={study} onRename={() => setNaming(true)} />
    </li>
  );
}

function Name({ study, onDone }: { study: StudyCard; onDone: () => void }) {
  const change = useChangeStudy();
  const [draft, setDraft] = useState(study.name);
  const keep = () => {
    const name = draft.trim();
    if (name && name !== study.name) change.mutate({ id: study.id, name }, { onError: sayFault });
    onDone();
  };
  return (
    <input
      autoFocus
      aria-label="New name"
      value={draft}
      maxLength={200}
      onChange={(event) => setDraft(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") onDone();
      }}
      className="w-full rounded border border-amber bg-paper px-1 font-semibold focus:outline-none"
    />
  );
}

const ITEM = "flex cursor-pointer items-center gap-2 rounded px-2 py-1.5 text-ink no-underline outline-none data-[highlighted]:bg-glow";

/** What can be done with a study, in a menu of its own. */
function Acts({ study, onRename }: { study: StudyCard; onRename: () => void }) {
  const change = useChangeStudy();
  const copy = useCopyStudy();
  const remove = useDeleteStudy();
  const restore = useRestoreStudy();
  const say = useNotices((s) => s.say);
  const forget = () =>
    remove.mutate(study.id, {
      onSuccess: () => say(`Deleted: ${study.name}.`, false, { title: "Take it back", act: () => restore.mutate(study.id, { onError: sayFault }) }),
      onError: sayFault,
    });
  const away = (archived: boolean) =>
    change.mutate(
      { id: study.id, archived },
      { onSuccess: () => archived && say(`Put away: ${study.name}.`, false, { title: "Take it out", act: () => change.mutate({ id: study.id, archived: false }, { onError: sayFault }) }), onError: sayFault },
    );
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label={`What to do with ${study.name}`} className="absolute top-2 right-2 rounded-md bg-sheet/90 p-1.5 text-faint opacity-0 group-hover:opacity-100 hover:text-ink focus-visible:opacity-100 data-[state=open]:opacity-100">
        <MoreHorizontal size={16} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className="z-40 min-w-56 rounded-lg border border-rule bg-sheet p-1 shadow-xl" onCloseAutoFocus={(event) => event.preventDefault()}>
          <Act icon={<Pencil size={15} />} onSelect={onRename}>Rename</Act>
          <Act icon={<Copy size={15} />} onSelect={() => copy.mutate(study.id, { onError: sayFault })}>Once more, as a study of its own</Act>
          <DropdownMenu.Item asChild><a className={ITEM} href={studyFile(study.id, "all")} download><Download size={15} /> Save as a file</a></DropdownMenu.Item>
          <DropdownMenu.Item asChild><a className={ITEM} href={studyFile(study.id, "kept")} download><Download size={15} /> Save with kept takes alone</a></DropdownMenu.Item>
          {study.archived ? <Act icon={<ArchiveRestore size={15} />} onSelect={() => away(false)}>Take it out again</Act> : <Act icon={<Archive size={15} />} onSelect={() => away(true)}>Put away</Act>}
          <Act icon={<Trash2 size={15} />} onSelect={forget}>Delete</Act>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function Act({ icon, onSelect, children }: { icon: ReactNode; onSelect: () => void; children: string }) {
  return <DropdownMenu.Item className={ITEM} onSelect={onSelect}>{icon} {children}</DropdownMenu.Item>;
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
      {study.source && <img src={sourceImage(study.source, 512)} alt="" loading="lazy" className={picture} draggable={false} />}
      {study.best_take && (
        <>
          <img src={takePreview(study.best_take)} alt="" loading="lazy" draggable={false} className={picture} style={{ clipPath: `inset(0 0 0 ${at * 100}%)` }} />
          <span className="absolute inset-y-0 w-px bg-white/80" style={{ left: `${at * 100}%` }} />
        </>
      )}
    </div>
  );
}
