"""What a camera's live view says before the photo is taken; nothing of it is kept."""

from __future__ import annotations

from hakari.core.errors import InputError
from hakari.core.photo.decode import decode
from hakari.core.photo.framing import Cue, framing_of
from hakari.core.photo.header import kind_of
from hakari.formats.base import Document, Pair

LARGEST_FRAME_BYTES, MOST_FRAME_MEGAPIXELS = 2_000_000, 4.0


class FramingView(Document):
    """How the card lies in a frame: what to do first, and the corners of its well as shares of width and height.

    ``lean_deg`` is how far the phone leans: positive where it is nearer to the card on the right, and at the bottom. ``fill``
    is the well's share of the frame along the side that fills up first.
    """

    cues: list[Cue]
    ready: bool
    corners: list[Pair] | None
    fill: float | None
    tilt_deg: float | None
    lean_deg: Pair | None


def judge_frame(data: bytes) -> FramingView:
    """Judge one frame.

    Raises
    ------
    InputError
        ``frame-too-large`` when it is no small JPEG but a photo; and as ``decode``.
    """
    # Frames alone are decoded in the server itself: several come a second, and they are small.
    if len(data) > LARGEST_FRAME_BYTES or kind_of(data) not in (None, "JPEG"):
        raise InputError("frame-too-large", "This is too large for a frame.", "Send it as a photo.", field="frame")
    framing = framing_of(decode(data, MOST_FRAME_MEGAPIXELS).rgb)
    return FramingView(
        cues=list(framing.cues), ready=framing.ready,
        corners=None if framing.corners is None else [(float(x), float(y)) for x, y in framing.corners],
        fill=framing.fill, tilt_deg=framing.tilt_deg, lean_deg=framing.lean_deg,
    )  # fmt: skip
