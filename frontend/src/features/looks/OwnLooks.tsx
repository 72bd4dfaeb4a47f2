import { Download, FolderInput, Trash2, Wand } from "lucide-react";
import { useRef, useState } from "react";
import { lookFile, type LookView } from "../../api/client";
import { useBringInLook, useForgetLook, useLearnLook, useRenameLook } from "../../api/queries";
import { sayFault } from "../../common/notices";
import { Button } from "../../ui/Button";

const MOST = 10;

/** Learning looks from pictures and bringing in their files, by button or by dropping them on the panel. */
export function useOwnLooks(onMade: (name: string) => void) {
  const learn = useLearnLook();
  const bringIn = useBringInLook();
  const made = { onSuccess: (look: LookView) => onMade(look.name), onError: sayFault };
  const give = (files: File[]) => {
    const saved = files.filter((file) => file.name.endsWith(".npz"));
    const pictures = files.filter((file) => !file.name.endsWith(".npz"));
    for (const file of saved) bringIn.mutate(file, made);
    if (pictures.length > MOST) sayFault(`A look is learned from one to ${MOST} pictures, not ${pictures.length}.`);
    else if (pictures.length) learn.mutate(pictures, made);
  };
  return { give, learning: learn.isPending, busy: learn.isPending || bringIn.isPending };
}

/** The ways in: pictures to learn from, or the file of a look. */
export function OwnLookButtons({ own }: { own: ReturnType<typeof useOwnLooks> }) {
  const pictures = useRef<HTMLInputElement>(null);
  const file = useRef<HTMLInputElement>(null);
  const given = (input: HTMLInputElement) => {
    const files = [...(input.files ?? [])];
    input.value = "";
    own.give(files);
  };
  return (
    <div className="flex gap-2">
      <Button className="h-7 px-2" disabled={own.busy} title="Learn a look from one to ten pictures of one hand; dropping them here does it too" onClick={() => pictures.current?.click()}>
        <Wand size={14} /> {own.learning ? "Learning\u2026" : "Learn from pictures"}
      </Button>
      <Button className="h-7 px-2" disabled={own.busy} onClick={() => file.current?.click()} title="A .npz that was saved here or by somebody else">
        <FolderInput size={14} /> Bring in a file
      </Button>
      <input ref={pictures} type="file" accept="image/*" multiple hidden aria-label="Reference pictures" onChange={(event) => given(event.target)} />
      <input ref={file} type="file" accept=".npz" hidden aria-label="File of a learned look" onChange={(event) => given(event.target)} />
    </div>
  );
}

/** Name, file and end of one look of the artist's own. */
export function OwnLookTools({ look }: { look: LookView }) {
  const rename = useRenameLook();
  const forget = useForgetLook();
  const [draft, setDraft] = useState(look.title);
  const keep = () => {
    const title = draft.trim();
    if (!title) setDraft(look.title);
    else if (title !== look.title) rename.mutate({ name: look.name, title }, { onError: sayFault });
  };
  return (
    <div className="flex items-center gap-1">
      <input
        aria-label={`Name of the look ${look.title}`}
        value={draft}
        maxLength={80}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={keep}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        className="h-7 min-w-0 flex-1 rounded border border-rule bg-transparent px-1.5 font-semibold focus:border-amber focus:outline-none"
      />
      <a href={lookFile(look.name)} download aria-label={`Save ${look.title} as a file`} title="Save as a file" className="rounded p-1.5 text-faint hover:bg-glow hover:text-amber">
        <Download size={15} />
      </a>
      <button
        type="button"
        aria-label={`Forget ${look.title}`}
        title="Forget this look; takes made with it stay"
        onClick={() => forget.mutate(look.name, { onError: sayFault })}
        className="rounded p-1.5 text-faint hover:bg-glow hover:text-fault"
      >
        <Trash2 size={15} />
      </button>
    </div>
  );
}
