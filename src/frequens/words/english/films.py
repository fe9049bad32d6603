"""Why a film cannot be used, or not yet; each with what to do about it."""

from __future__ import annotations

EMPTY = "The file is empty: nothing was recorded or copied."
PLAYLIST = (
    "This is a playlist, not a film: it only points at other files or addresses. Upload the film "
    "itself."
)
NOT_A_FILM = (
    "This is not a film Frequens can read, whatever its name says. MP4, MOV, MKV, WebM and MPEG-TS "
    "are read."
)
UNREADABLE = (
    "The film breaks off before its table of contents, or is damaged: it cannot be opened. Copy it "
    "from the phone once more."
)
NO_PICTURE = "There is no picture in this file, only sound or data."
NO_TIMES = "The film carries no frame times."
NO_FRAMES = "The file has a picture track without a single frame."
TOO_MANY_FRAMES = "More than {most} frames."
TOO_LONG = (
    "The film lasts {minutes:.0f} minutes; the limit is {most:.0f}. Cut it into sessions first."
)
PICTURE_TOO_LARGE = "The picture is too large: {width} x {height}."
CUT_OFF = (
    "The film is cut off: its header promises more than the {there_s:clock_tenths} that are there. "
    "Copy it from the phone once more."
)
DAMAGED = "The picture cannot be decoded: the film is damaged."
FRAME_UNDECODABLE = "Frame {frame} cannot be decoded here. Its neighbours may be; the film is kept."
FRAME_UNWRITABLE = "Frame {frame} could not be written as a picture."
FRAME_TOO_SLOW = "Frame {frame} did not come within {deadline_s} s. Try again."
FRAME_CRASHED = "The decoder ended twice on frame {frame}. The film is kept."
CRASHED = "The decoder on this machine crashed on this film. The film is kept."
TOO_SLOW = "The film took longer to read than one may take."
COPY_DIFFERS = (
    "The review copy does not show the same frames at the same times; the original's own frames "
    "are used instead."
)
DISK_FULL = "The disk is full. Make room, then try again; the film is kept."
NO_MEMORY = "The film needs more memory than one may use."
BUSY = "Too many films are looked at at once. Try again in a moment."
INTERRUPTED = (
    "The machine broke this off each time, for want of memory perhaps. The film is kept: try again."
)
INTERNAL = "Frequens itself failed on this film. It is kept: try again, or tell us."
BROKE_OFF = "The upload broke off. Upload the film again."
NOT_IN_ARCHIVE = "The archive came without the film; its marks and findings are here."
