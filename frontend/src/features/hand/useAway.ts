import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { giveDepth, giveRegion, makeSource } from "../../api/hand";
import { studyKey } from "../../api/queries";
import { useNotices } from "../../common/notices";
import { boundsOf } from "../../primitives/select";
import { usePlace } from "../../study/place";
import { asBlob, composed } from "./canvas";
import { selectionFile } from "./selections";
import { SOFT_EDGE, type Base, type Given } from "./useBase";

/** Where the picture goes from the Hand: to the desk as a source, whole or in a region, or as another's depth. */
export function useAway({ studyId, hand, stack, seen }: Given, { held, working }: Base) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const showSource = usePlace((s) => s.showSource);
  const toDesk = (then: (sourceId: string) => Promise<unknown>, depth = false) =>
    working("Laying it together…", async () => {
      await hand.settled();
      const source = await makeSource(hand.view!.id, depth);
      await then(source.id);
      await queries.invalidateQueries({ queryKey: studyKey(studyId) });
      showSource(studyId, source.id);
      void navigate(`/study/${studyId}?live`);
    });
  const restyle = () => {
    if (!held.selection || !boundsOf(held.selection)) return toDesk(() => Promise.resolve());
    const mask = selectionFile(held.selection, SOFT_EDGE * 2);
    toDesk(async (id) => giveRegion(id, await mask));
  };
  const asDepthOf = (sourceId: string, name: string) =>
    working("Giving depth…", async () => {
      await giveDepth(sourceId, await asBlob(composed(stack, await seen())));
      await queries.invalidateQueries({ queryKey: studyKey(studyId) });
      useNotices.getState().say(`This picture is the depth guide of ${name} now: white is near. Its hold is in the drawer of the desk.`);
    });
  return { restyle, withDepth: () => toDesk(() => Promise.resolve(), true), asDepthOf };
}
