/** What a file's first bytes say, so that nobody waits for an upload that cannot be of use. */

const text = (bytes: Uint8Array, from: number, to: number) =>
  String.fromCharCode(...bytes.subarray(from, to));

const startsWith = (bytes: Uint8Array, start: number[]) =>
  start.every((byte, n) => bytes[n] === byte);

const CONVERT =
  "Turn it into MP4 first, with the program you edit films with: the times of its frames stay as they are.";

/** So much of a file is enough to know. */
export const HEAD_BYTES = 64;

/**
 * Why a file is not worth sending, in a sentence with what to do; null for all others.
 *
 * Only kinds that are certain: what is not known here is the server's to look at.
 */
export function notAFilmWeRead(head: Uint8Array): string | null {
  if (text(head, 0, 4) === "RIFF") {
    const kind = text(head, 8, 12);
    if (kind === "AVI ") return `AVI films are not read here. ${CONVERT}`;
    if (kind === "WAVE") return "This is sound without a picture. Upload the film itself.";
  }
  if (startsWith(head, [0x00, 0x00, 0x01, 0xba])) {
    return `MPEG program streams, as older cameras and discs hold them, are not read here. ${CONVERT}`;
  }
  if (startsWith(head, [0x30, 0x26, 0xb2, 0x75, 0x8e, 0x66, 0xcf, 0x11])) {
    return `WMV films are not read here. ${CONVERT}`;
  }
  const brand = text(head, 4, 8) === "ftyp" ? text(head, 8, 12) : "";
  const isStill =
    startsWith(head, [0xff, 0xd8, 0xff]) ||
    startsWith(head, [0x89, 0x50, 0x4e, 0x47]) ||
    ["heic", "heix", "mif1", "avif"].includes(brand);
  if (isStill) return "This is a photograph. Upload the film of the session.";
  if (startsWith(head, [0x50, 0x4b, 0x03, 0x04])) {
    return "This is a packed folder. Unpack it, and upload the films in it.";
  }
  return null;
}
