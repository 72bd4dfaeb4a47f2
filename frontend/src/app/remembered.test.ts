import { beforeEach, describe, expect, it } from "vitest";
import { useLookShelf } from "../features/looks/shelf";
import { useShownHold } from "../features/holds/shown";
import { useStruck } from "../features/words/struck";
import { usePlace } from "../study/place";

describe("what the desk keeps in mind", () => {
  beforeEach(() => usePlace.setState(usePlace.getInitialState()));

  it("keeps each study's place apart from the others'", () => {
    const { showSweep, pick, showSource } = usePlace.getState();
    showSweep("quay", "s1");
    pick("quay", "t1");
    showSweep("badge", "s2");
    showSource("badge", "b");
    expect(usePlace.getState().sweep).toEqual({ quay: "s1", badge: "s2" });
    expect(usePlace.getState().take).toEqual({ quay: "t1" });
    pick("quay", undefined);
    expect(usePlace.getState().take.quay).toBeUndefined();
    expect(usePlace.getState().source.badge).toBe("b");
  });
  it("lets go of takes chosen together when another sweep is shown, in that study alone", () => {
    const { choose, showSweep } = usePlace.getState();
    choose("quay", ["t1", "t2"]);
    choose("badge", ["t9"]);
    showSweep("quay", "s2");
    expect(usePlace.getState().chosen).toEqual({ quay: [], badge: ["t9"] });
  });
});

describe("the shelf of looks", () => {
  beforeEach(() => useLookShelf.setState(useLookShelf.getInitialState()));

  it("stars and unstars", () => {
    const { toggle } = useLookShelf.getState();
    toggle("oil");
    toggle("neon");
    toggle("oil");
    expect(useLookShelf.getState().favourites).toEqual(["neon"]);
  });
  it("keeps the last looks used, each once, the newest first", () => {
    for (const name of ["oil", "neon", "pencil", "oil", "gouache", "marker", "mosaic", "stitch"]) useLookShelf.getState().used(name);
    expect(useLookShelf.getState().recent).toEqual(["stitch", "mosaic", "marker", "gouache", "oil", "pencil"]);
  });
});

describe("a hold laid over the source", () => {
  it("stays while pinned, one at a time, and leaves when pinned again", () => {
    const { pin, point } = useShownHold.getState();
    pin("lines");
    pin("shapes");
    expect(useShownHold.getState().pinned).toBe("shapes");
    point("faces");
    expect([useShownHold.getState().pinned, useShownHold.getState().pointed]).toEqual(["shapes", "faces"]);
    pin("shapes");
    expect(useShownHold.getState().pinned).toBeNull();
  });
});

describe("phrases of a description", () => {
  it("are struck and restored for their source alone", () => {
    const { strike, restore } = useStruck.getState();
    strike("a", "a red boat");
    strike("a", "dusk");
    strike("b", "a cup");
    expect(useStruck.getState().struck).toEqual({ a: ["a red boat", "dusk"], b: ["a cup"] });
    restore("a");
    expect(useStruck.getState().struck).toEqual({ a: [], b: ["a cup"] });
  });
});
