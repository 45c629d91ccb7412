"""Which photos a batch measures: a folder, a pattern, or a CSV list that names samples."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from hakari.core.errors import InputError
from hakari.formats.batch import BatchPlace

PICTURES = {".jpg", ".jpeg", ".png", ".webp", ".tif", ".tiff", ".heic", ".heif"}
COLUMNS = ("photo", "sample", "grinder", "setting", "coffee", "place", "date", "scale")
MOST_PHOTOS = 1_000_000


@dataclass(frozen=True)
class BatchSample:
    """Photos of one grind: their addresses, what is known of them, and how they are scaled."""

    photos: tuple[str, ...]
    place: BatchPlace
    scale: str


def list_samples(source: str, scale: str = "card") -> list[BatchSample]:
    """Return the samples of a folder (with those below it), a pattern, or a list; without a list each photo is a sample.

    Parameters
    ----------
    source : str
        A folder, a pattern like ``photos/*.jpg``, or a CSV file with a column ``photo`` and any of ``sample``, ``grinder``,
        ``setting``, ``coffee``, ``place``, ``date``, ``scale``. Addresses in a list are relative to it, or URLs.
    scale : str
        How photos are scaled where the list does not say.

    Returns
    -------
    list of BatchSample
        The samples, in order.

    Raises
    ------
    InputError
        ``no-photos``, ``list-malformed``, ``file-unreadable``.
    """
    path = Path(source)
    if path.suffix.lower() == ".csv":
        found = list(_from_list(path, scale))
    else:
        files = _files_in(path) if path.is_dir() else _matching(source)
        pictures = [p for p in files if p.suffix.lower() in PICTURES and p.is_file()]
        found = [BatchSample((str(p),), BatchPlace(sample=str(p)), scale) for p in pictures]
    if not found:
        raise InputError("no-photos", f"There are no photos in {source}.", "Name a folder, a pattern or a CSV list.")
    if sum(len(s.photos) for s in found) > MOST_PHOTOS:
        raise InputError("too-many-photos", "More than a million photos.", "Split the list.")
    return found


def _files_in(folder: Path) -> list[Path]:
    return sorted(p for p in folder.rglob("*") if not any(part.startswith(".") for part in p.relative_to(folder).parts))


def _matching(pattern: str) -> list[Path]:
    """Files that match a pattern, which may begin at the root."""
    path = Path(pattern)
    base = Path(path.anchor) if path.is_absolute() else Path()
    within = path.relative_to(path.anchor) if path.is_absolute() else path
    return sorted(base.glob(str(within))) if str(within) not in ("", ".") else []


def _from_list(path: Path, scale: str) -> Iterator[BatchSample]:
    """Group the rows of a list by sample and scale, in the order in which samples come first."""
    groups: dict[tuple[str, str], tuple[list[str], BatchPlace]] = {}
    for row in _rows(path):
        photo = row["photo"]
        address = photo if "://" in photo else str(path.parent / photo)
        place = BatchPlace(
            sample=row.get("sample") or photo,
            **{k: row.get(k) or None for k in ("grinder", "setting", "coffee", "place", "date")},
        )
        photos, _ = groups.setdefault((place.sample, row.get("scale") or scale), ([], place))
        photos.append(address)
    for (_, how), (photos, place) in groups.items():
        yield BatchSample(tuple(photos), place, how)


def _rows(path: Path) -> Iterator[dict[str, str]]:
    try:
        text = path.read_text(encoding="utf-8-sig")
    except OSError as error:
        raise InputError(
            "file-unreadable", f"{path.name} cannot be read: {error.strerror}.", "Check its name."
        ) from error
    except UnicodeDecodeError as error:
        raise _malformed("it is not text in UTF-8") from error
    dialect = ";" if text.partition("\n")[0].count(";") > text.partition("\n")[0].count(",") else ","
    table = csv.DictReader(io.StringIO(text), delimiter=dialect)
    if "photo" not in [(name or "").strip() for name in table.fieldnames or []]:
        raise _malformed("its first row has no column “photo”")
    for number, raw in enumerate(table, 2):
        row = {(k or "").strip(): (v or "").strip() for k, v in raw.items() if isinstance(v, str)}
        if not row.get("photo"):
            raise _malformed(f"row {number} names no photo")
        yield row


def _malformed(why: str) -> InputError:
    return InputError(
        "list-malformed",
        f"The list cannot be read: {why}.",
        f"Use a CSV with columns {', '.join(COLUMNS)}.",
        field="list",
    )


def read_photo(address: str) -> bytes:
    """Return a photo's bytes, from a path or a URL that fsspec knows."""
    if "://" not in address:
        return Path(address).read_bytes()
    import fsspec

    with fsspec.open(address, "rb") as file:
        data: bytes = file.read()
    return data
