import Feature from 'ol/Feature'
import type OlMap from 'ol/Map'
import LineString from 'ol/geom/LineString'
import Point from 'ol/geom/Point'
import Polygon from 'ol/geom/Polygon'
import VectorLayer from 'ol/layer/Vector'
import VectorSource from 'ol/source/Vector'
import CircleStyle from 'ol/style/Circle'
import Fill from 'ol/style/Fill'
import Stroke from 'ol/style/Stroke'
import Style from 'ol/style/Style'

const BRASS = '#7d5c12'
const ABOVE = 2100
const line = [
  new Style({ stroke: new Stroke({ color: 'rgba(255,255,255,0.9)', width: 5 }) }),
  new Style({
    stroke: new Stroke({ color: BRASS, width: 2 }),
    image: new CircleStyle({
      radius: 5,
      fill: new Fill({ color: BRASS }),
      stroke: new Stroke({ color: '#ffffff', width: 2 }),
    }),
  }),
]

/** Lines and places that a reader drew, over the map. */
export class Overlay {
  private readonly source = new VectorSource()

  constructor(map: OlMap) {
    map.addLayer(new VectorLayer({ className: 'drawn', source: this.source, zIndex: ABOVE, style: line }))
  }

  clear(): void {
    this.source.clear()
  }

  place(at: readonly number[]): void {
    this.source.addFeature(new Feature(new Point([...at])))
  }

  line(places: readonly (readonly number[])[]): void {
    this.source.addFeature(new Feature(new LineString(places.map((place) => [...place]))))
  }

  ring(places: readonly (readonly number[])[]): void {
    this.source.addFeature(new Feature(new Polygon([places.map((place) => [...place])])))
  }
}
