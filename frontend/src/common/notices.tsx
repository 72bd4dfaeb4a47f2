import { X } from "lucide-react";
import { useEffect } from "react";
import { create } from "zustand";

interface Notice {
  id: number;
  text: string;
  fault: boolean;
  /** One thing that can be done about it, such as taking it back. */
  action?: { title: string; act: () => void };
}

interface Notices {
  notices: Notice[];
  say: (text: string, fault?: boolean, action?: Notice["action"]) => void;
  dismiss: (id: number) => void;
}

let next = 1;

export const useNotices = create<Notices>((set) => ({
  notices: [],
  say: (text, fault = false, action = undefined) =>
    set((state) => ({
      notices: [...state.notices.filter((n) => n.text !== text).slice(-2), { id: next++, text, fault, action }],
    })),
  dismiss: (id) => set((state) => ({ notices: state.notices.filter((n) => n.id !== id) })),
}));

/** Say what went wrong, from outside of a component too. */
export const sayFault = (error: unknown) =>
  useNotices.getState().say(error instanceof Error ? error.message : String(error), true);

export function NoticeList() {
  const notices = useNotices((s) => s.notices);
  return (
    <div role="status" aria-live="polite" className="fixed bottom-4 left-1/2 z-50 flex w-[520px] max-w-[92vw] -translate-x-1/2 flex-col gap-2">
      {notices.map((notice) => (
        <NoticeRow key={notice.id} notice={notice} />
      ))}
    </div>
  );
}

function NoticeRow({ notice }: { notice: Notice }) {
  const dismiss = useNotices((s) => s.dismiss);
  useEffect(() => {
    const timer = setTimeout(() => dismiss(notice.id), notice.fault || notice.action ? 12_000 : 5_000);
    return () => clearTimeout(timer);
  }, [dismiss, notice]);
  return (
    <div
      className={`flex animate-[rise_.15s_ease-out] items-start gap-3 rounded-lg border-l-4 bg-sheet px-4 py-2.5 text-ink shadow-lg ${notice.fault ? "border-fault" : "border-teal"}`}
    >
      <p className="flex-1">{notice.text}</p>
      {notice.action && (
        <button
          type="button"
          className="rounded px-1 font-semibold text-amber underline-offset-2 hover:underline"
          onClick={() => {
            notice.action!.act();
            dismiss(notice.id);
          }}
        >
          {notice.action.title}
        </button>
      )}
      <button type="button" aria-label="Dismiss" onClick={() => dismiss(notice.id)} className="rounded p-0.5 text-faint hover:text-ink">
        <X size={16} />
      </button>
    </div>
  );
}
