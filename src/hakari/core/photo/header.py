"""What a picture file says of itself in its first bytes: judged before anything is allocated for its pixels."""

from __future__ import annotations

import struct

MAX_MEGAPIXELS = 60
HEIF_BRANDS = (b"heic", b"heix", b"heim", b"heis", b"hevc", b"hevx", b"mif1", b"msf1")
WEBP_STILL, WEBP_LOSSLESS, WEBP_EXTENDED = b"VP8 ", b"VP8L", b"VP8X"


def kind_of(data: bytes) -> str | None:
    """Return the kind of picture that a file is, as Pillow calls it; ``None`` for what is not opened at all.

    Parameters
    ----------
    data : bytes
        The file, or at least its first 32 bytes.

    Returns
    -------
    str or None
        ``JPEG``, ``PNG``, ``WEBP``, ``TIFF`` or ``HEIF``: what phones and cameras write.
    """
    if data[:3] == b"\xff\xd8\xff":
        return "JPEG"
    if data[:8] == b"\x89PNG\r\n\x1a\n":
        return "PNG"
    if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
        return "WEBP"
    if data[:4] in (b"II*\0", b"MM\0*"):
        return "TIFF"
    if data[4:8] == b"ftyp" and data[8:12] in HEIF_BRANDS:
        return "HEIF"
    return None


def webp_size(data: bytes) -> tuple[int, int]:
    """Return width and height of a WebP file in px; its decoder allocates the whole canvas as soon as it is opened.

    Parameters
    ----------
    data : bytes
        The file.

    Returns
    -------
    tuple of int
        Width and height, px.

    Raises
    ------
    ValueError
        When the first part of the file is none that holds a size.

    References
    ----------
    RFC 9649, WebP Image Format, sections 2.5 to 2.7.
    """
    part = data[12:16]
    if len(data) < 30:
        raise ValueError("cut short")
    if part == WEBP_EXTENDED:
        return (1 + int.from_bytes(data[24:27], "little"), 1 + int.from_bytes(data[27:30], "little"))
    if part == WEBP_LOSSLESS:
        (bits,) = struct.unpack("<I", data[21:25])
        return (1 + (bits & 0x3FFF), 1 + (bits >> 14 & 0x3FFF))
    if part == WEBP_STILL:
        width, height = struct.unpack("<HH", data[26:30])
        return (width & 0x3FFF, height & 0x3FFF)
    raise ValueError("no size")
