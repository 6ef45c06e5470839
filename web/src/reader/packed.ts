/** What a file holds, packed (RFC 1952) or, in editions of before 2026-11-28, as it is. */
export async function unpacked(data: ArrayBuffer): Promise<ArrayBuffer> {
  const [first, second] = new Uint8Array(data, 0, Math.min(2, data.byteLength))
  if (first !== 0x1f || second !== 0x8b) return data
  return new Response(new Blob([data]).stream().pipeThrough(new DecompressionStream('gzip'))).arrayBuffer()
}
