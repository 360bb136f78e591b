export interface PixelSize {
  width: number
  height: number
}

/**
 * The size that a picture's file needs to be drawn as sharply as it is, in pixels: never larger than it is, in its own
 * proportions, and covering what it is drawn in, so that nothing that is cut off at its edges costs sharpness. A picture that is not
 * drawn keeps its size, since nobody knows what it would need.
 */
export function neededSize(file: PixelSize, drawn: PixelSize): PixelSize {
  if (drawn.width <= 0 || drawn.height <= 0) return { ...file }
  const share = Math.min(1, Math.max(drawn.width / file.width, drawn.height / file.height))
  return {
    width: Math.max(1, Math.ceil(file.width * share - ROUNDING)),
    height: Math.max(1, Math.ceil(file.height * share - ROUNDING)),
  }
}

/** What division leaves over is no pixel. */
const ROUNDING = 1e-6
