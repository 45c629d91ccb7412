"""The shipped photos are measured to what their truth files say."""

import json
import shutil
from pathlib import Path

import pytest

from hakari.core.errors import InputError
from hakari.core.photo.pipeline import CardScale, DiscScale, PointsScale
from hakari.demo.stories import fill
from hakari.service.backups.doctor import examine
from hakari.service.samples.demo_photos import FOLDER, demo_photo, list_demo_photos
from hakari.service.samples.measuring import measure_files, parse_scale
from hakari.service.slips import use_cases as slips
from hakari.service.workbench import use_cases as bench
from hakari.service.workspace.transaction import Workspace


@pytest.mark.parametrize("name", [p.stem for p in sorted(FOLDER.glob("*.jpg"))])
def test_figures_and_their_interval_agree_with_the_truth(name: str) -> None:
    truth = json.loads((FOLDER / f"{name}.json").read_text())
    assert truth["simulated"] is True
    m = measure_files([demo_photo(name)], CardScale()).document
    assert m.cut_um == 100 and not [f for f in m.findings if f.severity == "problem"]
    assert m.d50_um == pytest.approx(truth["d50_um"], rel=0.02)
    assert m.d90_um == pytest.approx(truth["d90_um"], rel=0.05)
    assert m.ci95.d50_um[0] < truth["d50_um"] < m.ci95.d50_um[1]
    assert m.mass_below_um["200"] == pytest.approx(truth["mass_below_um"]["200"], abs=0.012)
    assert m.extrapolated.mass_below_um["100"] == pytest.approx(truth["whole"]["mass_below_um"]["100"], rel=0.3)


def test_two_photos_are_one_sample_and_narrow_its_interval() -> None:
    one, two = demo_photo("arlsmoor-22"), demo_photo("arlsmoor-18")
    both = measure_files([one, two], CardScale()).document
    alone = measure_files([one], CardScale()).document
    assert both.photos == 2 and both.particles > 1.6 * alone.particles
    assert both.effective_count > 1.5 * alone.effective_count
    with pytest.raises(InputError, match="Photo 2"):
        measure_files([one, b"no picture"], CardScale())


def test_the_same_photo_gives_the_same_figures_twice() -> None:
    first, second = (measure_files([demo_photo("brackwell-8")], CardScale()).document for _ in range(2))
    assert first.ci95 == second.ci95 and first.d50_um == second.d50_um


def test_scales_are_read_or_refused() -> None:
    assert parse_scale("card") == CardScale()
    assert parse_scale("disc:19") == DiscScale(19) and parse_scale("disc:19,1.2").thickness_mm == 1.2
    assert parse_scale("points:1,2,300.5,4,60") == PointsScale(1, 2, 300.5, 4, 60)
    for text in ("", "points:1,2,3", "points:a,b,c,d,e", "points:1,2,3,4,nan", "disc:", "disc:19,1,2"):
        with pytest.raises(InputError) as refusal:
            parse_scale(text)
        assert refusal.value.field == "scale" and refusal.value.remedy


def test_demo_photos_are_listed_and_no_other_file_is_given_out() -> None:
    assert len(list_demo_photos().photos) >= 6
    for name in ("../grinders", "nothing", "arlsmoor-22.json"):
        with pytest.raises(InputError):
            demo_photo(name)


def test_the_doctor_names_troubles_with_remedies(tmp_path: Path) -> None:
    assert any("does not exist" in t.words for t in examine(tmp_path / "nowhere"))
    (tmp_path / "hakari.sqlite3").write_text("coffee was spilt here" * 400)
    assert any("damaged" in t.words for t in examine(tmp_path))


def test_the_demo_tells_its_two_stories(filled_demo: Path, tmp_path: Path) -> None:
    folder = tmp_path / "data"
    shutil.copytree(filled_demo, folder)
    ws = Workspace(folder, measuring_processes=0)
    on_bench = bench.read_bench(ws)
    assert on_bench.sample is not None and (on_bench.sample.grinder_name, on_bench.sample.setting) == ("Arlsmoor", "22")
    assert on_bench.grinder is not None and on_bench.grinder.name == "Brackwell"
    told = slips.list_slips(ws).slips
    assert len(told) == 3 and [len(s.changed) for s in told] == [0, 1, 1]
    assert not told[0].in_target and told[-1].in_target and "sweet" in told[-1].taste
    fill(ws, lambda _: None)
    assert len(slips.list_slips(ws).slips) == 3
    ws.close()
