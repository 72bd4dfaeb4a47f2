/** Pan and zoom shared by every picture on the bench. x, y: picture's corner in the stage; scale: screen px per picture px. */
export interface View {
  x: number;
  y: number;
  scale: number;
}

export interface Size {
  width: number;
  height: number;
}

export const LARGEST_SCALE = 4;

/** The view that shows the whole picture, never enlarged beyond `most`. */
export function fitted(picture: Size, stage: Size, margin: number, most = 2): View {
  const scale = Math.min((stage.width - 2 * margin) / picture.width, (stage.height - 2 * margin) / picture.height, most);
  return centred(picture, stage, Math.max(scale, 0.01));
}

/** The picture in the middle of the stage at a scale. */
export function centred(picture: Size, stage: Size, scale: number): View {
  return {
    scale,
    x: (stage.width - picture.width * scale) / 2,
    y: (stage.height - picture.height * scale) / 2,
  };
}

/** Zoom so that the point of the picture under (px, py) stays there. */
export function zoomedAt(view: View, scale: number, px: number, py: number): View {
  const ratio = scale / view.scale;
  return { scale, x: px - (px - view.x) * ratio, y: py - (py - view.y) * ratio };
}

/** Keep at least `margin` pixels of the picture in sight. */
export function kept(view: View, picture: Size, stage: Size, margin = 60): View {
  const width = picture.width * view.scale;
  const height = picture.height * view.scale;
  return {
    scale: view.scale,
    x: Math.min(Math.max(view.x, margin - width), stage.width - margin),
    y: Math.min(Math.max(view.y, margin - height), stage.height - margin),
  };
}
