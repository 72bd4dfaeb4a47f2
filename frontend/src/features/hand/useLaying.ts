import { keepPicture, thingPicture, type Thing } from "../../api/hand";
import { above, freshId, placeNew, wholePlace, type Place, type Point } from "../../primitives/stack";
import { asBlob, loaded } from "./canvas";
import { asLayer, type Base, type Given } from "./useBase";

/** Of the whole, how large a file is laid in; how many metres high the whole is taken to be. */
const LAID = 0.6;
const METRES_HIGH = 8;

/** Pictures, things and grounds laid in. */
export function useLaying({ hand, stack }: Given, { held, working }: Base) {
  const laid = async (file: Blob, name: string, origin: string, place?: (size: { width: number; height: number }) => Place) => {
    const kept = await keepPicture(file);
    let id = "";
    hand.edit((s) => {
      id = freshId(s, "f");
      return above(s, null, asLayer(id, name.slice(0, 120) || "picture", kept.picture, place?.(kept) ?? placeNew(kept, s, LAID), origin));
    });
    held.set({ picked: id, tool: "place" });
  };
  const addFiles = (files: File[]) =>
    working("Bringing in…", async () => {
      for (const file of files) await laid(file, file.name.replace(/\.[^.]+$/, ""), "file");
    });
  /** Things of the library keep their size to one another: the whole is taken for so many metres. */
  const addThing = (thing: Thing, at?: Point) =>
    working("Laying it in…", async () => {
      const drawn = await loaded(thingPicture(thing.name));
      const tall = Math.min(Math.max((thing.metres / METRES_HIGH) * stack.height, 0.06 * stack.height), 0.9 * stack.height);
      await laid(await asBlob(drawn), thing.title, `library ${thing.name}`, () => ({ ...placeNew(thing, stack, 1, at), height: tall, width: (tall * thing.width) / thing.height }));
    });
  const addGround = () => {
    hand.edit((s) => ({ ...s, layers: [{ ...asLayer(freshId(s, "g"), "ground", "", wholePlace(s), "ground"), picture: null, ground: { top: held.colour, bottom: held.colour } }, ...s.layers] }));
  };
  return { addFiles, addThing, addGround };
}
