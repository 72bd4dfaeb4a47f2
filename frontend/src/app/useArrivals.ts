import { useEffect, useRef, useState } from "react";

/** A part of the page that takes dropped files itself, and what it says while they are held over it. */
const ownDrop = (target: EventTarget | null) => (target instanceof Element ? target.closest<HTMLElement>("[data-own-drop]") : null);

/**
 * Files that are dropped anywhere or pasted. While something is held over the window: what the part under it would do
 * with it, or "" where dropping means bringing in; else null.
 */
export function useArrivals(onFiles: (files: File[]) => void): string | null {
  const [over, setOver] = useState<string | null>(null);
  const handler = useRef(onFiles);
  useEffect(() => {
    handler.current = onFiles;
  });
  useEffect(() => {
    let depth = 0;
    const carries = (event: DragEvent) => [...(event.dataTransfer?.types ?? [])].includes("Files");
    const enter = (event: DragEvent) => {
      if (!carries(event)) return;
      depth++;
      setOver(ownDrop(event.target)?.dataset.ownDrop ?? "");
    };
    const leave = (event: DragEvent) => {
      if (carries(event) && --depth <= 0) setOver(null);
    };
    const hold = (event: DragEvent) => carries(event) && event.preventDefault();
    const drop = (event: DragEvent) => {
      if (!carries(event)) return;
      event.preventDefault();
      depth = 0;
      setOver(null);
      if (ownDrop(event.target)) return;
      handler.current([...(event.dataTransfer?.files ?? [])]);
    };
    const paste = (event: ClipboardEvent) => {
      const files = [...(event.clipboardData?.files ?? [])];
      if (files.length) handler.current(files);
    };
    window.addEventListener("dragenter", enter);
    window.addEventListener("dragleave", leave);
    window.addEventListener("dragover", hold);
    window.addEventListener("drop", drop);
    window.addEventListener("paste", paste);
    return () => {
      window.removeEventListener("dragenter", enter);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("dragover", hold);
      window.removeEventListener("drop", drop);
      window.removeEventListener("paste", paste);
    };
  }, []);
  return over;
}
