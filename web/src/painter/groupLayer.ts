import type BaseLayer from 'ol/layer/Base'
import type { Coordinate } from 'ol/coordinate'
import type { FeatureCallback } from 'ol/renderer/vector'
import type { FrameState } from 'ol/Map'
import type { State } from 'ol/layer/Layer'
import type OlMap from 'ol/Map'
import Layer, { inView } from 'ol/layer/Layer'
import Source from 'ol/source/Source'
import LayerRenderer from 'ol/renderer/Layer'
import type { Blend, Effects } from '../api/types'
import { filterOf } from './blending'

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- layers of any source may be composed
type Member = Layer<Source, any>

/** Layers that are composed with one another first, on an element of their own, and then blended as one with what is below. */
export class GroupLayer extends Layer<Source, GroupRenderer> {
  members: Member[] = []
  blend: Blend = 'normal'
  effects: Effects | null = null

  constructor(options: ConstructorParameters<typeof Layer>[0]) {
    // What has no source is passed over when the map is asked for the shapes at a place.
    super({ ...options, source: new Source({ wrapX: true }) })
  }

  /** Take layers in; they are drawn in the order of their z-indices. */
  add(member: BaseLayer): void {
    this.members.push(member as Member)
    member.addEventListener('change', this.again)
    ;(member as Member).setMapInternal(this.getMapInternal())
    this.changed()
  }

  drop(member: BaseLayer): void {
    this.members = this.members.filter((each) => each !== member)
    member.removeEventListener('change', this.again)
    ;(member as Member).setMapInternal(null)
    this.changed()
  }

  override setMapInternal(map: OlMap | null): void {
    super.setMapInternal(map)
    this.members.forEach((member) => member.setMapInternal(map))
  }

  override createRenderer(): GroupRenderer {
    return new GroupRenderer(this)
  }

  private again = (): void => this.changed()
}

/** Whether a layer is drawn at the map's scale, also as a member of a group: the map itself knows groups only. */
export function isSeen(layer: Layer, map: OlMap): boolean {
  return inView(layer.getLayerState(), map.getView().getState())
}

class GroupRenderer extends LayerRenderer<GroupLayer> {
  private element = document.createElement('div')

  override prepareFrame(): boolean {
    return true
  }

  override renderFrame(frame: FrameState): HTMLElement {
    const group = this.getLayer()
    const { style } = this.element
    this.element.className = group.getClassName()
    style.position = 'absolute'
    style.inset = '0'
    style.isolation = 'isolate'
    style.mixBlendMode = group.blend
    style.opacity = String(group.getOpacity())
    style.filter = group.effects ? filterOf(group.effects) : ''
    const drawn: HTMLElement[] = []
    this.within(frame, (member, state) => {
      if (!inView(state, frame.viewState)) return member.unrender()
      const element = member.render(frame, null as never)
      if (element) drawn.push(element)
    })
    this.element.replaceChildren(...drawn)
    return this.element
  }

  /** Tells of the shape that is seen on top at a place, whichever member has it. */
  override forEachFeatureAtCoordinate<T>(
    coordinate: Coordinate,
    frame: FrameState,
    tolerance: number,
    callback: FeatureCallback<T>,
    matches: never[],
  ): T | undefined {
    let hit: T | undefined
    this.within(
      frame,
      (member, state) => {
        if (hit !== undefined || !member.hasRenderer() || !inView(state, frame.viewState)) return
        hit = member.getRenderer()?.forEachFeatureAtCoordinate(coordinate, frame, tolerance, callback, matches)
      },
      true,
    )
    return hit
  }

  /** Go through the members as a map does through its layers: renderers look up their state where the frame says. */
  private within(frame: FrameState, visit: (member: Member, state: State) => void, fromTop = false): void {
    const { layerStatesArray, layerIndex } = frame
    const states = this.getLayer()
      .members.map((member) => member.getLayerState(true))
      .sort((a, b) => (a.zIndex ?? 0) - (b.zIndex ?? 0))
    frame.layerStatesArray = states
    const order = states.map((_, i) => i)
    for (const i of fromTop ? order.reverse() : order) {
      frame.layerIndex = i
      const state = states[i]
      if (state) visit(state.layer as Member, state)
    }
    Object.assign(frame, { layerStatesArray, layerIndex })
  }
}
