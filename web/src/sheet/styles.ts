import Fill from 'ol/style/Fill'
import Stroke from 'ol/style/Stroke'
import Circle from 'ol/style/Circle'
import Style from 'ol/style/Style'
import Text from 'ol/style/Text'
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
  const stroke =
    mark.stroke_width > 0 && mark.stroke_opacity > 0
      ? new Stroke({
          color: rgba(mark.stroke, mark.stroke_opacity),
          width: mark.stroke_width,
          lineJoin: 'round',
          lineCap: 'round',
        })
      : undefined
  const fill = mark.fill_opacity > 0 ? new Fill({ color: rgba(mark.fill, mark.fill_opacity) }) : undefined
  if (kind === 'points') return new Style({ image: new Circle({ radius, fill, stroke }), zIndex: -radius })
  return kind === 'lines' ? new Style({ stroke }) : new Style({ fill, stroke })
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

export function labelStyle(text: string, dx: number, dy: number, lettering: Lettering): Style {
  const halo = lettering.halo ?? 1.5
  return new Style({
    text: new Text({
      text,
      font: `500 ${lettering.size ?? 12}px ${LABEL_FACE}`,
      textAlign: 'center',
      textBaseline: 'alphabetic',
      offsetX: dx,
      offsetY: dy,
      overflow: true,
      fill: new Fill({ color: lettering.colour ?? '#2b2b28' }),
      stroke:
        halo > 0
          ? new Stroke({ color: lettering.halo_colour ?? '#ffffff', width: 2 * halo, lineJoin: 'round' })
          : undefined,
    }),
  })
}
