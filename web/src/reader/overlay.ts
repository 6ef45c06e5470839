import type OlMap from 'ol/Map'
import type { FrameState } from 'ol/Map'
import { type At, CanvasLayer } from '../painter/canvasLayer'

const BRASS = '#7d5c12'
const WHITE = 'rgba(255,255,255,0.9)'
const ABOVE = 2100
/** Px of a place's radius. */
const RADIUS = 5

type Drawn = readonly (readonly number[])[]

/** Lines and places that a reader drew, over the map. */
export class Overlay extends CanvasLayer {
  private drawn: Drawn[] = []

  constructor(map: OlMap) {
    super({ className: 'drawn', zIndex: ABOVE })
    map.addLayer(this)
  }

  clear(): void {
    this.drawn = []
    this.changed()
  }

  place(at: readonly number[]): void {
    this.line([at])
  }

  line(places: Drawn): void {
    this.drawn.push(places)
    this.changed()
  }

  ring(places: Drawn): void {
    const [first] = places
    if (first) this.line([...places, first])
  }

  protected override paint(context: CanvasRenderingContext2D, frame: FrameState, at: At): void {
    const ratio = frame.pixelRatio
    context.lineCap = context.lineJoin = 'round'
    for (const [colour, width] of [
      [WHITE, 5],
      [BRASS, 2],
    ] as const) {
      context.strokeStyle = colour
      context.lineWidth = width * ratio
      for (const places of this.drawn) {
        context.beginPath()
        places.forEach((place) => context.lineTo(...at(place)))
        context.stroke()
      }
    }
    for (const [place, ...others] of this.drawn) {
      if (!place || others.length > 0) continue
      context.beginPath()
      context.arc(...at(place), RADIUS * ratio, 0, 2 * Math.PI)
      context.fillStyle = BRASS
      context.fill()
      context.strokeStyle = '#ffffff'
      context.lineWidth = 2 * ratio
      context.stroke()
    }
  }
}
