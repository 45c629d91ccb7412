"""The one file that is installed: it holds the page, and serves the demo where nothing of the source tree is."""

from __future__ import annotations

import http.client
import json
import re
import shutil
import subprocess
import sys
import sysconfig
import time
import zipfile
from email import message_from_bytes
from pathlib import Path

import pytest

from processes import free_port

ROOT = Path(__file__).parents[2]
SOURCE = ROOT / "src"


@pytest.fixture(scope="module")
def wheel() -> Path:
    found = sorted((ROOT / "dist").glob("hakari-*.whl"))
    assert len(found) == 1, "run: make wheel"
    return found[0]


def test_the_wheel_is_of_this_source_and_asks_for_what_is_pinned(wheel: Path) -> None:
    with zipfile.ZipFile(wheel) as archive:
        held = {n: archive.read(n) for n in archive.namelist() if n.startswith("hakari/")}
        said = message_from_bytes(archive.read(next(n for n in archive.namelist() if n.endswith("/METADATA"))))
    kept = {p.relative_to(SOURCE).as_posix(): p for p in (SOURCE / "hakari").rglob("*") if p.is_file()}
    wanted = {n: p.read_bytes() for n, p in kept.items() if "__pycache__" not in n}
    assert held.keys() == wanted.keys() and held == wanted, "run: make wheel"
    pinned = (ROOT / "requirements.in").read_text().split()
    asked = said.get_all("Requires-Dist") or []
    assert sorted(d for d in asked if "extra ==" not in d) == sorted(pinned)
    # What a cluster or a shared database needs is asked for by its extra alone, as it was tested.
    tested = (ROOT / "requirements-extras.in").read_text().split()
    extra = [d.partition(";")[0] for d in asked if "extra ==" in d]
    assert len(extra) == 3 and set(extra) <= set(tested)
    assert said["Requires-Python"] == "<3.12,>=3.11"


def _pins(file: Path) -> dict[str, str]:
    return dict(re.findall(r"^([\w.-]+)(?:\[[\w,]+\])?==([\w.]+)", file.read_text(), re.MULTILINE))


def test_licences_and_what_it_was_tested_with_are_in_it(wheel: Path) -> None:
    with zipfile.ZipFile(wheel) as archive:
        held = {n: archive.read(n).decode() for n in archive.namelist() if "licenses/" in n or "share/hakari/" in n}
    licences = [t for n, t in held.items() if "licenses/" in n]
    assert sum("Apache License" in t for t in licences) == 1
    for font in ("Noto", "Unifont", "Instrument Sans", "Spline Sans Mono"):
        assert any(font in t and "SIL OPEN FONT LICENSE" in t for t in licences), font
    constraints = next(t for n, t in held.items() if n.endswith("share/hakari/constraints.txt"))
    assert constraints == (ROOT / "constraints.txt").read_text()
    # Each package, those that others ask for too, in the version that the tests ran with.
    pinned = _pins(ROOT / "constraints.txt")
    assert pinned == _pins(ROOT / "requirements.txt") | _pins(ROOT / "requirements-extras.txt")


LOCKED = sorted(ROOT.glob("requirements*.txt"))


@pytest.mark.parametrize("lock", LOCKED, ids=lambda p: p.stem)
def test_everything_that_make_installs_is_locked_by_hash(lock: Path) -> None:
    text = lock.read_text()
    entries = [e for e in re.split(r"\n(?=[A-Za-z])", text) if "==" in e.split("\\")[0]]
    assert entries and all("--hash=sha256:" in e for e in entries) and "http" not in text
    wanted = [w.split("==")[0].split("[")[0] for w in lock.with_suffix(".in").read_text().split() if "==" in w]
    assert set(wanted) <= set(_pins(lock))


def test_nothing_is_installed_past_the_locks() -> None:
    makefile = (ROOT / "Makefile").read_text()
    for line in makefile.splitlines():
        if "pip install" in line or "$(PIP)" in line:
            assert "--require-hashes" in line or "--no-deps" in line or line.startswith(("PIP =", "LOCKED =")), line
    assert "npx --yes" not in makefile and "npm install" not in makefile and "npm ci" in makefile
    packages = json.loads((ROOT / "frontend/package-lock.json").read_text())["packages"]
    assert all(p.get("integrity", "").startswith("sha512-") for name, p in packages.items() if name)
    build = _pins(ROOT / "requirements-build.txt")
    assert f'requires = ["setuptools=={build["setuptools"]}"]' in (ROOT / "pyproject.toml").read_text()


def test_installed_elsewhere_it_serves_the_demo(wheel: Path, filled_demo: Path, tmp_path: Path) -> None:
    """In a new environment, whose packages are those of this one: nothing is fetched."""
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", tmp_path / "env"], check=True)
    python = tmp_path / "env" / "bin" / "python"
    pip = [sys.executable, "-m", "pip", "--disable-pip-version-check", "--python", python]
    subprocess.run([*pip, "install", "-q", "--no-index", "--no-deps", wheel], check=True)
    here = subprocess.run(
        [python, "-c", "import sysconfig; print(sysconfig.get_path('purelib'))"],
        check=True,
        capture_output=True,
        text=True,
    )
    (Path(here.stdout.strip()) / "packages.pth").write_text(sysconfig.get_path("purelib"))
    where = subprocess.run(
        [python, "-c", "import hakari; print(hakari.__file__)"],
        check=True,
        capture_output=True,
        text=True,
        cwd=tmp_path,
    )
    assert where.stdout.startswith(str(tmp_path / "env"))
    data = tmp_path / "data"
    shutil.copytree(filled_demo, data)
    port = free_port()
    words = [tmp_path / "env" / "bin" / "hakari", "demo", "--port", str(port), "--data", str(data)]
    with subprocess.Popen(words, cwd=tmp_path, stdout=subprocess.PIPE, text=True) as server:
        try:
            assert server.stdout is not None and server.stdout.readline().strip().endswith(f":{port}")
            page = answer(port, "/")
            script = re.search(r'src="(/assets/[^"]+\.js)"', page)
            assert script is not None and len(answer(port, script.group(1))) > 10_000
            assert '"coffee":{' in answer(port, "/api/workbenches/current")
        finally:
            server.terminate()


def answer(port: int, path: str) -> str:
    deadline = time.monotonic() + 30
    while True:
        try:
            connection = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
            connection.request("GET", path)
            got = connection.getresponse()
            break
        except ConnectionRefusedError:
            assert time.monotonic() < deadline
            time.sleep(0.1)
    assert got.status == 200, path
    return got.read().decode()
