import { useEffect, useState } from "react";

export interface Pixels {
  data: Uint8ClampedArray;
  width: number;
  height: number;
}

const SMALLEST_READ = 1;

/** A picture's pixels for reading, or null until they are there. */
export function usePixels(src: string | null): Pixels | null {
  const [found, setFound] = useState<{ src: string; pixels: Pixels } | null>(null);
  useEffect(() => {
    if (!src) return;
    let gone = false;
    const image = new Image();
    image.onload = () => {
      if (gone) return;
      const canvas = document.createElement("canvas");
      canvas.width = Math.max(image.naturalWidth, SMALLEST_READ);
      canvas.height = Math.max(image.naturalHeight, SMALLEST_READ);
      const context = canvas.getContext("2d", { willReadFrequently: true })!;
      context.drawImage(image, 0, 0);
      const { data, width, height } = context.getImageData(0, 0, canvas.width, canvas.height);
      setFound({ src, pixels: { data, width, height } });
    };
    image.src = src;
    return () => {
      gone = true;
    };
  }, [src]);
  return found && found.src === src ? found.pixels : null;
}

/** The colour at a place given in shares of the picture, as #rrggbb; null outside. */
export function colourAt(pixels: Pixels | null, x: number, y: number): string | null {
  if (!pixels || x < 0 || y < 0 || x >= 1 || y >= 1) return null;
  const i = (Math.floor(y * pixels.height) * pixels.width + Math.floor(x * pixels.width)) * 4;
  return `#${[0, 1, 2].map((k) => pixels.data[i + k]!.toString(16).padStart(2, "0")).join("")}`;
}
