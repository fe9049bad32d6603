/** What a file's first bytes say, so that nobody waits for an upload that cannot be of use. */

import { t } from "../words";

const text = (bytes: Uint8Array, from: number, to: number) =>
  String.fromCharCode(...bytes.subarray(from, to));

const startsWith = (bytes: Uint8Array, start: number[]) =>
  start.every((byte, n) => bytes[n] === byte);

const CONVERT = t("domain:not_a_film_we_read.turn_it_into_mp4_first");

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
    if (kind === "AVI ") return t("domain:not_a_film_we_read.avi_films_are_not_read", { CONVERT });
    if (kind === "WAVE") return t("domain:not_a_film_we_read.this_is_sound_without_a");
  }
  if (startsWith(head, [0x00, 0x00, 0x01, 0xba])) {
    return t("domain:not_a_film_we_read.mpeg_streams_are_not_read", { CONVERT });
  }
  if (startsWith(head, [0x30, 0x26, 0xb2, 0x75, 0x8e, 0x66, 0xcf, 0x11])) {
    return t("domain:not_a_film_we_read.wmv_films_are_not_read", { CONVERT });
  }
  const brand = text(head, 4, 8) === "ftyp" ? text(head, 8, 12) : "";
  const isStill =
    startsWith(head, [0xff, 0xd8, 0xff]) ||
    startsWith(head, [0x89, 0x50, 0x4e, 0x47]) ||
    ["heic", "heix", "mif1", "avif"].includes(brand);
  if (isStill) return t("domain:not_a_film_we_read.this_is_a_photograph_upload");
  if (startsWith(head, [0x50, 0x4b, 0x03, 0x04])) {
    return t("domain:not_a_film_we_read.this_is_a_packed_folder");
  }
  return null;
}
