"""What is packed comes back as it was, to the last digit, and is small."""

import json
import math
import zlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.store.packed_json import pack, unpack

hundredths = st.integers(-(10**6), 10**6).map(lambda n: n / 100)
floats = st.floats(allow_nan=False, allow_infinity=False)
documents = st.recursive(
    st.none() | st.booleans() | st.integers(-(2**60), 2**60) | floats | st.text(),
    lambda inner: (
        st.lists(inner)
        | st.dictionaries(st.text(st.characters(min_codepoint=32)), inner)
        | st.lists(hundredths | st.just(-0.0), min_size=8)
        | st.lists(st.integers(-1000, 1000), min_size=8)
        | st.lists(st.tuples(hundredths, floats).map(list), min_size=8)
    ),
)


@given(documents)
def test_every_document_comes_back_as_it_was(document: object) -> None:
    # As text: 1 and 1.0 are not the same, nor are 0.0 and -0.0.
    assert json.dumps(unpack(pack(document))) == json.dumps(document)


def test_a_log_takes_a_tenth_of_its_json() -> None:
    log = [[round(k / 10, 1), round(280 * (1 - math.exp(-k / 600)) + math.sin(k * k) / 10, 2)] for k in range(2500)]
    assert len(pack(log)) < len(json.dumps(log)) / 9 and unpack(pack(log)) == log


@pytest.mark.parametrize("wrong", [b"", b"coffee", zlib.compress(b"[1,"), zlib.compress(b"\xff")])
def test_what_was_not_packed_is_refused(wrong: bytes) -> None:
    with pytest.raises(ValueError):
        unpack(wrong)
