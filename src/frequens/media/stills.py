"""Single frames as pictures: for the bench before the review copy is there, and for reports."""

from __future__ import annotations

from pathlib import Path

import av
import cv2
import numpy as np
from cv2.typing import MatLike

from .container import FilmFault, open_film, picture_stream
from .frames import FrameIndex


def still(path: Path, index: FrameIndex, frame: int, rotation: int, lines: int = 720) -> bytes:
    """Frame number `frame` as an upright JPEG whose shorter side is at most `lines`.

    Raises IndexError for a frame the film does not have and FilmFault where the frame
    cannot be decoded.
    """
    if not 0 <= frame < len(index):
        raise IndexError(f"frame must lie from 0 to {len(index) - 1}, not {frame}")
    wanted = index.pts[frame]
    with open_film(path) as container:
        stream = picture_stream(container)
        stream.thread_type = "AUTO"
        container.seek(wanted, stream=stream, backward=True)
        try:
            found = next((f for f in container.decode(stream) if f.pts == wanted), None)
        except av.FFmpegError:
            found = None
    if found is None:
        raise FilmFault(
            "undecodable", f"Frame {frame} cannot be decoded: the film is damaged there."
        )
    upright = np.rot90(found.to_ndarray(format="bgr24"), -rotation // 90)
    picture: MatLike = np.ascontiguousarray(upright, dtype=np.uint8)
    height, width = picture.shape[:2]
    scale = lines / min(width, height)
    if scale < 1:
        size = (round(width * scale), round(height * scale))
        picture = cv2.resize(picture, size, interpolation=cv2.INTER_AREA)
    done, jpeg = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, 88])
    if not done:
        raise FilmFault("undecodable", f"Frame {frame} could not be written as a picture.")
    return jpeg.tobytes()
