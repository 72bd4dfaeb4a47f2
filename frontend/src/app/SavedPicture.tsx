import { Dialog } from "radix-ui";
import { useNavigate } from "react-router";
import type { Choices } from "../api/client";
import { useRunSaved, type SavedView } from "../api/saved";
import { sayFault } from "../common/notices";
import { usePlace } from "../study/place";
import { Button } from "../ui/Button";
import { lookTitle } from "../primitives/engines";

interface Props {
  name: string;
  saved: SavedView;
  choices: Choices | undefined;
  onSource: () => void;
  onSettings: () => void;
  onClose: () => void;
}

/** A picture that was saved here comes back: what can be done with it. */
export function SavedPicture({ name, saved, choices, onSource, onSettings, onClose }: Props) {
  const navigate = useNavigate();
  const place = usePlace();
  const run = useRunSaved();
  const { recipe, take, source } = saved;
  const look = choices ? lookTitle(choices, recipe) : recipe.look;
  const toTake = () => {
    if (!take) return;
    // Its own sheet: the take stands in no other.
    if (take.sweep_id) place.showSweep(take.study_id, take.sweep_id);
    place.pick(take.study_id, take.id);
    void navigate(`/study/${take.study_id}`);
    onClose();
  };
  const again = () => {
    if (!source) return;
    run.mutate({ source_id: source.id, recipe, spans: [] }, {
      onSuccess: (sweep) => {
        place.showSweep(source.study_id, sweep.id);
        void navigate(`/study/${source.study_id}`);
        onClose();
      },
      onError: sayFault,
    });
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-deep/60" />
        <Dialog.Content className="fixed top-1/2 left-1/2 z-50 flex w-[460px] max-w-[92vw] -translate-x-1/2 -translate-y-1/2 flex-col gap-3 rounded-xl border border-rule bg-paper p-5 text-ink shadow-2xl">
          <Dialog.Title className="text-[17px] font-semibold">This picture knows how it was made</Dialog.Title>
          <Dialog.Description className="text-faint">
            {name}: {look}, strength {(recipe.strength ?? 0).toFixed(2)}, guidance {recipe.guidance}, seed {recipe.seed}.{" "}
            {source ? `Its source is here, in "${source.study}".` : "Its source is not here, or was framed otherwise."}
          </Dialog.Description>
          <div className="flex flex-col gap-1.5">
            {take && <Button weight="main" spread onClick={toTake}>Go to it in "{take.study}"</Button>}
            {source && <Button weight={take ? "plain" : "main"} spread disabled={run.isPending} title="Its recipe on its source: the same picture" onClick={again}>Same again from its source</Button>}
            <Button spread title="A study of this picture, its settings in the band" onClick={onSettings}>As a source, with its settings</Button>
            <Button spread title="A study of this picture, as of any other" onClick={onSource}>As a source</Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
