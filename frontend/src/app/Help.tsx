import { X } from "lucide-react";
import { KeyCap } from "../ui/Button";
import { KEY_LIST } from "../common/keys";

/** Every key, in a panel that leaves the work in sight. */
export function Help({ onClose }: { onClose: () => void }) {
  return (
    <aside aria-label="Keys" className="fixed top-14 right-2 z-40 max-h-[calc(100vh-72px)] w-[350px] animate-[rise_.15s_ease-out] overflow-y-auto rounded-lg border border-rule bg-sheet p-4 shadow-xl">
      <div className="flex items-center justify-between">
        <h2 className="text-base font-semibold">Keys</h2>
        <button type="button" aria-label="Close" onClick={onClose} className="rounded p-1 text-faint hover:text-ink">
          <X size={17} />
        </button>
      </div>
      {KEY_LIST.map(({ place, keys }) => (
        <section key={place} className="mt-2">
          <h3 className="text-[13px] font-semibold text-teal">{place}</h3>
          <dl className="m-0 mt-1 grid grid-cols-[92px_1fr] gap-x-3 gap-y-1 text-[13px]">
            {keys.map(([key, what]) => (
              <div key={key} className="contents">
                <dt><KeyCap>{key}</KeyCap></dt>
                <dd className="m-0">{what}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </aside>
  );
}
