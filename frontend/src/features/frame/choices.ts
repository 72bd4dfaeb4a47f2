import type { Framing } from "../../api/client";
import program from "../../api/program.gen.json";

/** Shapes by their common names, width over height. */
export const SHAPES: { title: string; value: string; shape: number | null }[] = [
  { title: "Free", value: "free", shape: null },
  { title: "Square 1 : 1", value: "1:1", shape: 1 },
  { title: "Portrait 4 : 5", value: "4:5", shape: 4 / 5 },
  { title: "Portrait 2 : 3", value: "2:3", shape: 2 / 3 },
  { title: "Landscape 3 : 2", value: "3:2", shape: 3 / 2 },
  { title: "Landscape 4 : 3", value: "4:3", shape: 4 / 3 },
  { title: "Wide 16 : 9", value: "16:9", shape: 16 / 9 },
  { title: "Tall 9 : 16", value: "9:16", shape: 9 / 16 },
  { title: "A4 upright 1 : 1.41", value: "1:1.41", shape: 1 / Math.SQRT2 },
];

export type Fit = "crop" | "pad" | "stretch";

export const FITS: { value: Fit; title: string; detail: string }[] = [
  { value: "crop", title: "Crop", detail: "the box takes the shape; what is outside is lost" },
  { value: "pad", title: "Ground beside", detail: "nothing is lost; ground fills the rest" },
  { value: "stretch", title: "Stretch", detail: "nothing is lost; everything is distorted" },
];

export const RESAMPLINGS = program.resamplings as { value: NonNullable<Framing["resampling"]>; title: string; detail: string }[];

export const LONG_SIDES = [256, 384, 512, 640, 768, 1024, 1280, 1536, 2048];

export const AS_IT_CAME: Framing = {
  ground: "#ffffff", turn: 0, flip: false, straighten: 0, left: 0, top: 0, right: 1, bottom: 1, margin: 0, shape: null, fit: "pad",
  scale: 1, shift_x: 0, shift_y: 0, recolour: [], resampling: "auto",
};
