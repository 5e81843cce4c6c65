/** The table of CRC-32 as in ISO 3309 and RFC 1952, section 8. */
const TABLE = /* @__PURE__ */ Uint32Array.from({ length: 256 }, (_, byte) => {
  let c = byte;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c;
});

/** The CRC-32 of a text, two bytes for each UTF-16 code unit, the low one first; as eight hexadecimal digits. */
export function checksum(text: string): string {
  let c = 0xffffffff;
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    c = TABLE[(c ^ unit) & 0xff]! ^ (c >>> 8);
    c = TABLE[(c ^ (unit >>> 8)) & 0xff]! ^ (c >>> 8);
  }
  return ((c ^ 0xffffffff) >>> 0).toString(16).padStart(8, '0');
}
