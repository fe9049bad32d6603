"""Copies and stills as an ordinary screen shows them: interlaced, mirrored and bright films."""

from __future__ import annotations

import itertools
import struct
from fractions import Fraction

import av
import cv2
import numpy as np
import pytest
from av.filter import Graph

from frequens.media.decode.frames import index_frames
from frequens.media.decode.probe import probe
from frequens.media.decode.stills import still
from frequens.media.decode.tones import (
    PEAK,
    WHITE,
    Curve,
    compressed,
    hlg_to_light,
    light_to_pq,
    on_screen,
    pq_to_light,
)
from frequens.media.ingest.review import make_review_copy

WIDTH, HEIGHT, FRAMES = 320, 192, 20


def both(path, folder):
    """Every frame's picture on the copy, and the stills of a few, as BGR."""
    facts, index = probe(path), index_frames(path)
    copy = folder / "copy.mp4"
    make_review_copy(path, copy, index, facts.rotation)
    with av.open(str(copy)) as film:
        shown = [frame.to_ndarray(format="bgr24") for frame in film.decode(video=0)]
    assert len(shown) == len(index)
    stills = {}
    for frame in (7, 0, 8, 19):
        jpeg = still(path, index, frame, facts.rotation)
        stills[frame] = cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_COLOR)
    return shown, stills


# -- interlaced ------------------------------------------------------------------------


def woven(frame, is_lower_first):
    """A bar at 14 per frame, and half of that further in the lines of the second instant."""
    picture = np.full((HEIGHT, WIDTH), 30, np.uint8)
    for line, left in ((is_lower_first, 14 * frame), (not is_lower_first, 14 * frame + 7)):
        picture[int(line) :: 2, left : left + 7] = 230
    grey = np.full((HEIGHT // 2, WIDTH), 128, np.uint8)
    return av.VideoFrame.from_ndarray(np.vstack([picture, grey]), format="yuv420p")


def marked(frames, order):
    """Frames that say of themselves which lines come first; the library sets it by a filter."""
    graph = Graph()
    size = {"width": WIDTH, "height": HEIGHT, "format": "yuv420p", "time_base": Fraction(1, 25)}
    chain = [
        graph.add_buffer(**size),
        graph.add("setfield", order),
        graph.add("buffersink"),
    ]
    for one, following in itertools.pairwise(chain):
        one.link_to(following)
    graph.configure()
    for number, frame in enumerate(frames):
        graph.push(frame)
        ready = graph.pull()
        ready.pts, ready.time_base = number, Fraction(1, 25)
        ready.pict_type = av.video.frame.PictureType.NONE
        yield ready


INTERLACED_CODING = 0x20000000 | 0x00040000


@pytest.mark.parametrize("order", ["tff", "bff"])
@pytest.mark.parametrize(
    ("codec", "name", "options"),
    [
        ("libx264", "film.mp4", {"b": "2000000"}),
        ("libx264", "film.mkv", {"b": "2000000", "bf": "3"}),
        ("mpeg2video", "film.ts", {"b": "4000000"}),
    ],
)
def test_of_an_interlaced_frame_only_the_first_instant_is_shown(
    tmp_path, order, codec, name, options
):
    path = tmp_path / name
    with av.open(str(path), "w") as film:
        stream = film.add_stream(codec, rate=25, options=options)
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        stream.codec_context.flags |= INTERLACED_CODING
        frames = (woven(n, order == "bff") for n in range(FRAMES))
        for frame in marked(frames, order):
            film.mux(stream.encode(frame))
        film.mux(stream.encode(None))
    copies, stills = both(path, tmp_path)
    for frame, picture in [*enumerate(copies), *stills.items()]:
        lit = (picture[16:-16, :, 1] > 128).mean(axis=0)
        first, second = (lit[at + 2 : at + 5] for at in (14 * frame, 14 * frame + 7))
        assert first.min() == 1, frame
        assert second.max() == 0, frame


def test_a_film_that_is_not_interlaced_keeps_all_its_lines(tmp_path):
    path = tmp_path / "film.mp4"
    lines = np.zeros((HEIGHT, WIDTH, 3), np.uint8)
    lines[::2] = 255
    with av.open(str(path), "w") as film:
        stream = film.add_stream("libx264", rate=25, options={"crf": "5"})
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        for _ in range(FRAMES):
            film.mux(stream.encode(av.VideoFrame.from_ndarray(lines, "bgr24")))
        film.mux(stream.encode(None))
    copies, stills = both(path, tmp_path)
    for picture in (*copies, *stills.values()):
        assert picture[10:-10:2].min() > 170
        assert picture[11:-10:2].max() < 85


# -- mirrored and turned ---------------------------------------------------------------

#: ISO/IEC 14496-12, 8.3.2: where in the header of a track its matrix stands (version 0).
_MATRIX = 44


def with_matrix(path, target, a, b, c, d, x, y):
    film = bytearray(path.read_bytes())
    at = film.find(b"tkhd") + _MATRIX
    fixed = (a << 16, b << 16, 0, c << 16, d << 16, 0, x << 16, y << 16, 1 << 30)
    struct.pack_into(">9i", film, at, *fixed)
    target.write_bytes(film)
    return target


@pytest.mark.parametrize(
    "across", [(1, 0), (0, 1), (-1, 0), (0, -1)], ids=["right", "down", "left", "up"]
)
@pytest.mark.parametrize("is_mirrored", [False, True], ids=["turned", "mirrored"])
def test_turned_and_mirrored_films_stand_upright(tmp_path, across, is_mirrored):
    """The matrix applied by hand: row vectors, x to the right and y down (8.3.2)."""
    a, b = across
    c, d = (b, -a) if is_mirrored else (-b, a)
    corners = np.full((HEIGHT, WIDTH, 3), 40, np.uint8)
    corners[:60, :60] = (0, 0, 255)
    corners[:60, -60:] = (0, 255, 0)
    corners[-60:, :60] = (255, 0, 0)
    plain = tmp_path / "plain.mp4"
    with av.open(str(plain), "w") as film:
        stream = film.add_stream("libx264", rate=25)
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p"
        for _ in range(FRAMES):
            film.mux(stream.encode(av.VideoFrame.from_ndarray(corners, "bgr24")))
        film.mux(stream.encode(None))
    x, y = WIDTH * (a < 0) + HEIGHT * (c < 0), WIDTH * (b < 0) + HEIGHT * (d < 0)
    path = with_matrix(plain, tmp_path / "film.mp4", a, b, c, d, x, y)
    copies, stills = both(path, tmp_path)
    for picture in (copies[0], copies[-1], *stills.values()):
        assert picture.shape[:2] == ((HEIGHT, WIDTH) if a else (WIDTH, HEIGHT))
        for (p, q), channel in {(30, 30): 2, (WIDTH - 30, 30): 1, (30, HEIGHT - 30): 0}.items():
            colour = picture[b * p + d * q + y, a * p + c * q + x]
            assert colour.argmax() == channel
            assert colour[channel] > 180


# -- bright films ----------------------------------------------------------------------


def test_the_curves_are_the_published_ones():
    """ITU-R BT.2408, table 1 (nominal signal levels, per cent of full; from memory): a grey card
    of 18 %, a white sheet, and the brightest of a screen of 1000 cd/m2."""
    for light, pq, hlg in ((26, 0.38, 0.38), (WHITE, 0.58, 0.75), (PEAK, 0.75, 1.0)):
        assert light_to_pq(np.array(float(light))) == pytest.approx(pq, abs=0.005)
        assert hlg_to_light(np.full(3, hlg)) == pytest.approx(np.full(3, light), rel=0.03)


def test_pq_there_and_back():
    light = np.geomspace(0.01, 10_000, 60)
    assert pq_to_light(light_to_pq(light)) == pytest.approx(light, rel=1e-6)


def test_dark_stays_and_bright_gives_way_in_order():
    light = np.geomspace(0.1, PEAK, 400)
    shown = compressed(light)
    assert shown[light < 85] == pytest.approx(light[light < 85], rel=1e-6)
    assert (np.diff(shown) > 0).all()
    assert shown[-1] == pytest.approx(WHITE, rel=1e-6)


def to_xyz(*primaries):
    """The matrix of a set of primaries with the white of D65 (SMPTE RP 177)."""
    columns = np.array([[x / y, 1.0, (1 - x - y) / y] for x, y in primaries]).T
    white = np.array([0.3127 / 0.3290, 1.0, (1 - 0.3127 - 0.3290) / 0.3290])
    return columns * np.linalg.solve(columns, white)


def test_colours_of_wide_primaries_come_out_as_they_are():
    """By the chromaticities of ITU-R BT.709 and BT.2020, table 3 of each (from memory)."""
    wide = to_xyz((0.708, 0.292), (0.170, 0.797), (0.131, 0.046))
    ordinary = to_xyz((0.640, 0.330), (0.300, 0.600), (0.150, 0.060))
    colours = np.array([[0.3, 0.1, 0.1], [0.05, 0.3, 0.1], [0.1, 0.1, 0.35], [0.2, 0.2, 0.2]])
    light = WHITE * colours @ np.linalg.solve(wide, ordinary).T
    assert light.max() < 90
    shown = on_screen(light_to_pq(light), Curve.PQ)
    assert shown**2.4 == pytest.approx(colours, abs=0.001)


def test_a_white_sheet_is_as_bright_by_either_curve():
    """The signals of BT.2408, table 1, as above."""
    by_pq, by_hlg = on_screen(np.full(3, 0.58), Curve.PQ), on_screen(np.full(3, 0.75), Curve.HLG)
    assert by_hlg == pytest.approx(by_pq, abs=0.01)
    # Taken for the other curve's it would be too bright.
    assert on_screen(np.full(3, 0.75), Curve.PQ)[0] > by_hlg[0] + 0.05


LEVELS = (0.0, 0.38, 0.58, 0.75)


@pytest.mark.parametrize("curve", list(Curve))
def test_a_bright_film_has_ordinary_tones_on_copy_and_still(tmp_path, curve):
    """A grey card of 18 % is as dark as on any screen, whatever the film's curve."""
    path = tmp_path / "film.mp4"
    with av.open(str(path), "w") as film:
        quiet = {"x265-params": "log-level=none", "crf": "8"}
        stream = film.add_stream("libx265", rate=25, options=quiet)
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p10le"
        context = stream.codec_context
        context.color_trc, context.color_primaries, context.colorspace = curve, 9, 9
        picture = np.full((HEIGHT * 3 // 2, WIDTH), 512, np.uint16)
        for place, level in enumerate(LEVELS):
            picture[:HEIGHT, place * 80 : place * 80 + 80] = round(64 + 876 * level)
        for number in range(FRAMES):
            frame = av.VideoFrame.from_ndarray(picture, format="yuv420p10le")
            frame.pts = number
            film.mux(stream.encode(frame))
        film.mux(stream.encode(None))
    copies, stills = both(path, tmp_path)
    for shown in (copies[0], copies[-1], *stills.values()):
        seen = shown[HEIGHT // 2, 40::80] / 255
        assert np.ptp(seen, axis=1).max() < 0.02
        expected = [on_screen(np.full(3, level), curve)[0] for level in LEVELS]
        assert seen[:, 1] == pytest.approx(expected, abs=0.015)
        # 18 % by the screen's curve is 49 %; the card is 26 of a white sheet's 203.
        assert seen[1, 1] == pytest.approx((26 / 203) ** (1 / 2.4), abs=0.02)


# -- ordinary colours ------------------------------------------------------------------

#: Parts of red and blue in brightness (ITU-R BT.709, BT.601 twice, SMPTE 240M), by the matrix's
#: number in ITU-T H.273, table 4.
WEIGHTS = {1: (0.2126, 0.0722), 5: (0.299, 0.114), 6: (0.299, 0.114), 7: (0.212, 0.087)}
COLOUR = (0.8, 0.2, 0.1)


def levels(matrix, is_full):
    """Brightness and colour differences of COLOUR as they are written, eight bits."""
    red, green, blue = COLOUR
    of_red, of_blue = WEIGHTS[matrix]
    y = of_red * red + (1 - of_red - of_blue) * green + of_blue * blue
    u, v = (blue - y) / (2 * (1 - of_blue)), (red - y) / (2 * (1 - of_red))
    if is_full:
        return [round(255 * y), round(128 + 255 * u), round(128 + 255 * v)]
    return [round(16 + 219 * y), round(128 + 224 * u), round(128 + 224 * v)]


@pytest.mark.parametrize("is_full", [False, True], ids=["limited", "full"])
@pytest.mark.parametrize("matrix", list(WEIGHTS))
def test_colours_stay_what_the_film_says(tmp_path, matrix, is_full):
    path = tmp_path / "film.mp4"
    with av.open(str(path), "w") as film:
        stream = film.add_stream("libx264", rate=25, options={"crf": "4"})
        form = "yuvj420p" if is_full else "yuv420p"
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, form
        context = stream.codec_context
        context.colorspace = context.color_primaries = context.color_trc = matrix
        context.color_range = 2 if is_full else 1
        for number in range(FRAMES):
            frame = av.VideoFrame(WIDTH, HEIGHT, form)
            for plane, level in zip(frame.planes, levels(matrix, is_full), strict=True):
                plane.update(bytes([level]) * plane.buffer_size)
            frame.pts = number
            film.mux(stream.encode(frame))
        film.mux(stream.encode(None))
    _, stills = both(path, tmp_path)
    for picture in stills.values():
        assert picture[90, 100][::-1] / 255 == pytest.approx(np.array(COLOUR), abs=0.02)
    with av.open(str(tmp_path / "copy.mp4")) as copy:
        told = copy.streams.video[0].codec_context
        assert (told.colorspace, told.color_range) == (matrix, 1)
        shown = next(copy.decode(video=0))
        written = [bytes(plane)[plane.line_size * 20 + 20] for plane in shown.planes]
    assert written == pytest.approx(levels(matrix, is_full=False), abs=2)
