import Style from 'ol/style/Style'

export const LABEL_FACE = '"Grey Latch Label"'

/** How a label is set, in px. */
export interface LabelLook {
  size: number
  halo: number
  colour: string
  halo_colour: string
}

/** Draw a line of a label: its middle `dx` px to the right of a place on the canvas, its baseline `dy` px below, turned about the
 * place by `turn` degrees clockwise. */
export function drawLabel(
  context: CanvasRenderingContext2D,
  text: string,
  [x, y]: [number, number],
  [dx, dy]: [number, number],
  { size, halo, colour, halo_colour: haloColour }: LabelLook,
  pixelRatio: number,
  turn = 0,
): void {
  context.save()
  context.translate(x, y)
  context.scale(pixelRatio, pixelRatio)
  context.rotate((turn * Math.PI) / 180)
  context.translate(dx, dy)
  context.font = `500 ${size}px ${LABEL_FACE}`
  context.textAlign = 'center'
  context.textBaseline = 'alphabetic'
  context.textRendering = 'geometricPrecision'
  if (halo > 0) {
    context.lineJoin = 'round'
    context.lineWidth = 2 * halo
    context.strokeStyle = haloColour
    context.strokeText(text, 0, 0)
  }
  context.fillStyle = colour
  context.fillText(text, 0, 0)
  context.restore()
}

/** A line of a label as a style. It draws by itself: OpenLayers would round places to whole pixels. */
export function labelStyle(text: string, dx: number, dy: number, look: LabelLook, turn = 0): Style {
  return new Style({
    renderer: (pixel, { context, pixelRatio }) => {
      const [x = 0, y = 0] = pixel as number[]
      drawLabel(context, text, [x, y], [dx, dy], look, pixelRatio, turn)
    },
  })
}
