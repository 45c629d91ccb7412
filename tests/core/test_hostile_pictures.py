"""Pictures made to do harm: their kind and size are judged before anything is allocated for them."""

from __future__ import annotations

import io
import struct
import tracemalloc
import zlib
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from hakari.core.errors import InputError
from hakari.core.photo.decode import decode
from hakari.core.photo.header import kind_of, webp_size

MOST_BYTES = 4_000_000


def tiff(width: int, height: int, bits: int = 16) -> bytes:
    """A TIFF that ends after its directory."""
    tags = [(256, 4, 1, width), (257, 4, 1, height), (258, 3, 1, bits)]
    return b"II*\0" + struct.pack("<IH", 8, len(tags)) + b"".join(struct.pack("<HHII", *t) for t in tags) + bytes(4)


def png(width: int, height: int) -> bytes:
    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", zlib.compress(bytes(1000))) + chunk(b"IEND", b"")
    )


def jpeg(width: int, height: int) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (256, 256)).save(out, "JPEG")
    data = bytearray(out.getvalue())
    at = data.index(b"\xff\xc0")
    data[at + 5 : at + 9] = struct.pack(">HH", height, width)
    return bytes(data)


def webp(width: int, height: int) -> bytes:
    extended = bytes([0x02, 0, 0, 0]) + (width - 1).to_bytes(3, "little") + (height - 1).to_bytes(3, "little")
    body = b"WEBPVP8X" + struct.pack("<I", 10) + extended + b"ANIM" + struct.pack("<I", 6) + bytes(6)
    return b"RIFF" + struct.pack("<I", len(body)) + body


@pytest.mark.parametrize("make", [tiff, png, jpeg, webp])
@pytest.mark.parametrize(("width", "height"), [(40_000, 40_000), (16_000, 16_000), (10**6, 10**6), (60_000, 2_000)])
def test_what_a_header_claims_is_not_allocated(make: Callable[[int, int], bytes], width: int, height: int) -> None:
    if make is jpeg:
        width, height = min(width, 65_000), min(height, 65_000)
    data = make(width, height)
    assert len(data) < 3000
    with pytest.raises(InputError):
        decode(make(10, 10))  # what is loaded at first use is no part of it
    tracemalloc.start()
    try:
        with pytest.raises(InputError) as refusal:
            decode(data)
        _, most = tracemalloc.get_traced_memory()
    finally:
        tracemalloc.stop()
    assert refusal.value.code in ("picture-too-large", "not-a-picture") and most < MOST_BYTES
    if (width, height) == (16_000, 16_000):
        assert refusal.value.code == "picture-too-large"


@pytest.mark.parametrize("first", [1, 2, 3])
def test_a_jpeg_whose_tables_are_numbered_otherwise_is_read(first: int) -> None:
    """Tables of quantisation have any of four numbers (ITU-T T.81, B.2.4.1)."""
    rng = np.random.default_rng(1)
    out = io.BytesIO()
    Image.fromarray(rng.integers(0, 255, (300, 300, 3), np.uint8)).save(out, "JPEG", quality=80)
    plain = out.getvalue()
    data, at = bytearray(plain), 2
    numbers = {0: first, 1: (first + 1) % 4}
    while data[at + 1] != 0xDA:
        marker, length = data[at + 1], int.from_bytes(data[at + 2 : at + 4], "big")
        if marker == 0xDB:
            table = at + 4
            while table < at + 2 + length:
                data[table] = (data[table] & 0xF0) | numbers[data[table] & 0x0F]
                table += 65
        if marker == 0xC0:
            for k in range(data[at + 9]):
                data[at + 12 + 3 * k] = numbers[data[at + 12 + 3 * k]]
        at += 2 + length
    assert bytes(data) != plain
    before, after = decode(plain), decode(bytes(data))
    assert np.array_equal(before.rgb, after.rgb) and before.jpeg_step == after.jpeg_step


def test_other_kinds_are_not_opened_at_all() -> None:
    for kind in ("GIF", "BMP", "PPM", "ICO", "EPS", "PDF"):
        out = io.BytesIO()
        Image.new("RGB", (300, 300)).save(out, kind)
        with pytest.raises(InputError) as refusal:
            decode(out.getvalue())
        assert refusal.value.code == "not-a-picture"


@given(
    st.sampled_from([b"\xff\xd8\xff", b"\x89PNG\r\n\x1a\n", b"RIFF\0\0\0\0WEBP", b"II*\0", b"\0\0\0\x18ftypheic"]),
    st.binary(max_size=300),
)
def test_whatever_follows_a_beginning_is_a_picture_or_refused_in_words(begin: bytes, rest: bytes) -> None:
    assert kind_of(begin + rest) is not None
    with pytest.raises(InputError):
        decode(begin + rest)


@given(st.integers(1, 16383), st.integers(1, 16383))
def test_the_size_of_a_webp_is_read_from_its_first_bytes(width: int, height: int) -> None:
    assert webp_size(webp(width, height)) == (width, height)


def test_sizes_of_webp_agree_with_its_own_decoder() -> None:
    for lossless in (True, False):
        out = io.BytesIO()
        Image.new("RGB", (311, 257)).save(out, "WEBP", lossless=lossless)
        assert webp_size(out.getvalue()) == (311, 257)
