import Fill from 'ol/style/Fill'
import Stroke from 'ol/style/Stroke'
import Style, { type RenderFunction } from 'ol/style/Style'
import type { FeatureLike } from 'ol/Feature'
import type { Lettering, Mark } from '../api/types'
import { UNDRAWN, type Ink } from './ink'

export const LABEL_FACE = '"Grey Latch Label"'

export function rgba(hex: string, opacity: number): string {
  const n = parseInt(hex.slice(1), 16)
  return `rgba(${n >> 16},${(n >> 8) & 255},${n & 255},${opacity})`
}

/** OpenLayers' style of a mark: the same fill, stroke and radius that the server's painter takes from it. */
export function styleOf(mark: Mark, kind: string, radius = mark.radius): Style {
  if (kind === 'points') return new Style({ renderer: circle(mark, radius), zIndex: -radius })
  const stroke = hasStroke(mark)
    ? new Stroke({
        color: rgba(mark.stroke, mark.stroke_opacity),
        width: mark.stroke_width,
        lineJoin: 'round',
        lineCap: 'round',
      })
    : undefined
  const fill = mark.fill_opacity > 0 ? new Fill({ color: rgba(mark.fill, mark.fill_opacity) }) : undefined
  return kind === 'lines' ? new Style({ stroke }) : new Style({ fill, stroke })
}

function hasStroke(mark: Mark): boolean {
  return mark.stroke_width > 0 && mark.stroke_opacity > 0
}

/** Symbols and labels are drawn here and not by OpenLayers, which rounds their places to whole pixels: what readers will see
 * stands where its place is. */
function circle(mark: Mark, radius: number): RenderFunction {
  const fill = rgba(mark.fill, mark.fill_opacity)
  const stroke = rgba(mark.stroke, mark.stroke_opacity)
  return (pixel, { context, pixelRatio }) => {
    // The places of several points come as a list of places.
    for (const [x = 0, y = 0] of (typeof pixel[0] === 'number' ? [pixel] : pixel) as number[][]) {
      context.beginPath()
      context.arc(x, y, radius * pixelRatio, 0, 2 * Math.PI)
      if (mark.fill_opacity > 0) {
        context.fillStyle = fill
        context.fill()
      }
      if (hasStroke(mark)) {
        context.lineWidth = mark.stroke_width * pixelRatio
        context.strokeStyle = stroke
        context.stroke()
      }
    }
  }
}

/** A style function that looks the feature's mark up in the ink; features without a mark are not drawn. */
export function styleFromInk(ink: Ink): (feature: FeatureLike) => Style | undefined {
  const { header, index, radius } = ink
  const byPosition = header.palette.map((mark) => styleOf(mark, header.kind))
  const bySize = new Map<number, Style>()
  return (feature) => {
    const row = Number(feature.getId())
    const position = index[row] ?? UNDRAWN
    if (position === UNDRAWN) return undefined
    const mark = header.palette[position]
    if (!radius || !mark) return byPosition[position]
    const size = Math.round((radius[row] ?? 0) * 20) / 20
    const key = position * 10000 + size
    let style = bySize.get(key)
    if (!style) bySize.set(key, (style = styleOf(mark, header.kind, size)))
    return style
  }
}

/** A line of a label: its middle `dx` px to the right of its place, its baseline `dy` px below. */
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
