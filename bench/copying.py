"""The review copy, against the ffmpeg command with the same settings."""

from __future__ import annotations

import subprocess
from collections.abc import Iterator
from pathlib import Path

from frequens.media.decode.frames import index_frames
from frequens.media.ingest.review import ReviewOptions, make_review_copy

from .films import CLIP_S, clip
from .timing import compared, in_turn


def run(folder: Path) -> Iterator[str]:
    film, options = clip(folder), ReviewOptions()
    index = index_frames(film)
    command = ["ffmpeg", "-v", "error", "-y", "-i", str(film)]
    command += ["-vf", f"scale=-2:{options.lines}:flags=bilinear", "-fps_mode", "passthrough"]
    command += ["-c:v", "libx264", "-preset", "ultrafast", "-crf", str(options.crf), "-bf", "0"]
    command += ["-g", str(options.key_frame_every), "-sc_threshold", "0"]
    command += ["-c:a", "aac", "-b:a", "128k", "-ac", "1", "-movflags", "+faststart"]
    command += [str(folder / "theirs.mp4")]
    ours, other = in_turn(
        lambda: make_review_copy(film, folder / "ours.mp4", index, 0, options),
        lambda: subprocess.run(command, check=True),
        rounds=3,
    )
    yield compared(f"{CLIP_S} s of 1080p60 copied", ours, other, 1.15)
    yield f"that is {ours / CLIP_S:.2f} times the film's own length"
