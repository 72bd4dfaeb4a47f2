import { X } from "lucide-react";
import { useRef } from "react";
import type { SourceView } from "../../api/client";
import { useDepth } from "../../api/queries";
import { sayFault } from "../../common/notices";

/** Give a grey picture, white near, that the hold on depth keeps to; or take it away. */
export function DepthGuide({ studyId, source, onGiven }: { studyId: string; source: SourceView; onGiven: () => void }) {
  const depth = useDepth(studyId);
  const file = useRef<HTMLInputElement>(null);
  const put = (given: File | null) =>
    depth.mutate({ sourceId: source.id, file: given }, { onSuccess: () => given && onGiven(), onError: sayFault });
  return (
    <>
      <button
        type="button"
        disabled={depth.isPending}
        aria-label={source.has_depth ? "depth guide: take it away" : undefined}
        title={source.has_depth ? "The hold on depth keeps to a guide of yours; take it away" : "A grey picture, white near, to hold depth by"}
        onClick={() => (source.has_depth ? put(null) : file.current?.click())}
        className={`flex items-center gap-0.5 rounded text-left text-xs underline-offset-2 hover:underline disabled:text-faint ${source.has_depth ? "font-semibold text-teal" : "text-amber"}`}
      >
        {source.has_depth ? <>depth guide <X size={12} aria-hidden /></> : "depth guide"}
      </button>
      <input
        ref={file}
        type="file"
        accept="image/*"
        hidden
        aria-label="Depth guide"
        onChange={(event) => {
          const given = event.target.files?.[0];
          event.target.value = "";
          if (given) put(given);
        }}
      />
    </>
  );
}
