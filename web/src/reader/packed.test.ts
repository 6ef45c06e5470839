import { expect, it } from 'vitest'
import { unpacked } from './packed'

const bytes = (text: string) => new Uint8Array(new TextEncoder().encode(text)).buffer

it('what is packed by gzip is unpacked, what is not is left as editions of before have it', async () => {
  const words = 'the water table below ground, '.repeat(50)
  const stream = new Blob([words]).stream().pipeThrough(new CompressionStream('gzip'))
  const packed = await new Response(stream).arrayBuffer()
  const read = await unpacked(packed)
  expect(new TextDecoder().decode(read)).toBe(words)
  expect(packed.byteLength).toBeLessThan(read.byteLength / 5)
  const plain = bytes(words)
  expect(await unpacked(plain)).toBe(plain)
  const nothing = new ArrayBuffer(0)
  expect(await unpacked(nothing)).toBe(nothing)
})
