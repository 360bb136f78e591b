/** The bytes on a boundary of their own: as they are where they fill their memory, else a copy; a pooled buffer may begin anywhere. */
export function bufferOf(bytes: Uint8Array): ArrayBuffer {
  const { buffer, byteOffset, byteLength } = bytes
  const fills = byteOffset === 0 && byteLength === buffer.byteLength
  return (fills ? buffer : buffer.slice(byteOffset, byteOffset + byteLength)) as ArrayBuffer
}
