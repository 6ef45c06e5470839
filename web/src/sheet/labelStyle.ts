import Style from 'ol/style/Style'
import type { Lettering } from '../api/types'

export const LABEL_FACE = '"Grey Latch Label"'

/** A line of a label: its middle `dx` px to the right of its place, its baseline `dy` px below. Drawn here and not by OpenLayers, which
 * rounds places to whole pixels. */
export function labelStyle(text: string, dx: number, dy: number, lettering: Lettering): Style {
  const { size = 12, halo = 1.5, colour = '#2b2b28', halo_colour: haloColour = '#ffffff' } = lettering
  return new Style({
    renderer: (pixel, { context, pixelRatio }) => {
      const [x = 0, y = 0] = pixel as number[]
      context.save()
      context.translate(x + dx * pixelRatio, y + dy * pixelRatio)
      context.scale(pixelRatio, pixelRatio)
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
    },
  })
}
