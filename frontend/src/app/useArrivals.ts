import { useEffect, useRef, useState } from "react";

/** Files that are dropped anywhere or pasted. True while something is held over the window. */
export function useArrivals(onFiles: (files: File[]) => void): boolean {
  const [over, setOver] = useState(false);
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
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (carries(event) && --depth <= 0) setOver(false);
    };
    const hold = (event: DragEvent) => carries(event) && event.preventDefault();
    const drop = (event: DragEvent) => {
      if (!carries(event)) return;
      event.preventDefault();
      depth = 0;
      setOver(false);
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
