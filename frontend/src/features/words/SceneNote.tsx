import { Mountain } from "lucide-react";
import type { Recipe, SceneView, SourceView } from "../../api/client";
import type { Box, Placement } from "../../primitives/placement";
import { sceneNote, shinesThrough } from "../../primitives/sceneNote";
import { PlacementPad } from "./PlacementPad";

interface Props {
  scene: SceneView;
  /** The highest strength that the band asks for. */
  strength: number;
  /** The firmer of the holds on lines and shapes. */
  hold: number;
  source: SourceView;
  /** Width over height of the picture. */
  aspect: number;
  placement: Recipe["placement"];
  onPlace: (placement: Placement | null) => void;
  onLoosen: () => void;
}

const isBox = (box: number[] | null | undefined): box is number[] & Box => box?.length === 4;

/** What the scene that the prompt names will do at this strength, and what of it cannot be together. */
export function SceneNote({ scene, strength, hold, source, aspect, placement, onPlace, onLoosen }: Props) {
  return (
    <div role="status" aria-label="Scene" className="mt-1 flex items-baseline gap-1.5 pl-[60px] text-xs text-faint">
      <Mountain size={12} className="shrink-0 self-center text-teal" aria-hidden />
      <p className="min-w-0">
        {sceneNote(scene, strength, hold)}
        {shinesThrough(scene, strength, hold) && (
          <button type="button" title="Lines and shapes at .1, colours at 0" onClick={onLoosen} className="ml-1 text-teal underline underline-offset-2 hover:text-amber">
            Loosen them
          </button>
        )}
        {scene.conflicts.map((conflict) => (
          <span key={conflict} className="text-fault"> {conflict}</span>
        ))}
      </p>
      {isBox(scene.box) && <PlacementPad source={source} box={scene.box} aspect={aspect} placement={placement ?? null} onPlace={onPlace} />}
    </div>
  );
}
