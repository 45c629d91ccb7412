"""The brew log's CSV: what is written is read back, other hands' files are read, and nonsense is refused in words."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hakari.core.errors import InputError
from hakari.formats.brew_log import LogDocument, read_log, write_log

weights = st.one_of(st.none(), st.floats(-50, 3000).map(lambda v: round(v, 2)))


@st.composite
def logs(draw: st.DrawFn) -> LogDocument:
    n = draw(st.integers(5, 40))
    t = sorted(draw(st.lists(st.floats(0, 4000).map(lambda v: round(v, 2)), min_size=n, max_size=n)))
    poured = draw(st.lists(weights, min_size=n, max_size=n))
    drink = [draw(weights) if p is not None else draw(st.floats(0, 900).map(lambda v: round(v, 2))) for p in poured]
    return LogDocument(t_s=t, poured_g=poured, drink_g=drink)


@given(
    logs(),
    st.lists(st.tuples(st.floats(0, 4000).map(lambda v: round(v, 1)), st.sampled_from(["spilt", "a, b", 'say "x"']))),
)
def test_a_log_comes_back_as_it_was_written(log: LogDocument, events: list[tuple[float, str]]) -> None:
    read, told = read_log(write_log(log, events))
    assert read == log and sorted(told) == sorted(events)


@given(st.text(max_size=300))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        read_log(text)
    except InputError as error:
        assert error.remedy and error.field == "log"


def test_other_hands_files_are_read() -> None:
    rows = "\n".join(f"{t},{t * 2},x" for t in range(6)).replace(",", ";").replace("4;8", "4,5;8,25")
    log, _ = read_log("\ufefftime_s;drink_g;note\r\n" + rows + "\n\n")
    assert log.t_s[4] == 4.5 and log.drink_g[4] == 8.25 and log.poured_g == [None] * 6


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "first row"), ("time_s,foo\n1,2", "first row"), ("time_s,drink_g\n2,1\n1,1\n", "Row 3"),
        ("time_s,drink_g\n0,0\n1,1e9\n", "out of reach"), ("time_s,drink_g\n0,0\n", "fewer than five"),
        ("time_s,drink_g\n0,nan\n", "out of reach"),
    ],
)  # fmt: skip
def test_what_is_wrong_is_said(text: str, said: str) -> None:
    with pytest.raises(InputError, match=said):
        read_log(text)
