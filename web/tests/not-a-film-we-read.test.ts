import { describe, expect, it } from "vitest";

import { notAFilmWeRead } from "../src/domain/not-a-film-we-read";

const bytes = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

describe("what is not worth sending", () => {
  it.each([
    ["RIFF\x10\0\0\0AVI LIST", "AVI"],
    ["\0\0\x01\xba\x44\0", "MPEG program streams"],
    ["\x30\x26\xb2\x75\x8e\x66\xcf\x11\xa6", "WMV"],
    ["\xff\xd8\xff\xe0\0", "photograph"],
    ["\x89PNG\r\n", "photograph"],
    ["\0\0\0\x18ftypheic\0\0", "photograph"],
    ["RIFF\x10\0\0\0WAVEfmt ", "sound without a picture"],
    ["PK\x03\x04", "Unpack"],
  ])("says so and what to do", (head, words) => {
    expect(notAFilmWeRead(bytes(head))).toContain(words);
  });

  it.each([
    ["MP4", "\0\0\0\x18ftypisom\0\0"],
    ["MOV", "\0\0\0\x14ftypqt  \0\0"],
    ["3GP", "\0\0\0\x14ftyp3gp4\0\0"],
    ["Matroska", "\x1a\x45\xdf\xa3\x01"],
    ["a transport stream", "\x47\x40\x11\x10"],
    ["something else in RIFF", "RIFF\x10\0\0\0CDXA"],
    ["what nobody knows", "hello"],
    ["nothing", ""],
  ])("leaves %s to the server", (_, head) => {
    expect(notAFilmWeRead(bytes(head))).toBeNull();
  });
});
