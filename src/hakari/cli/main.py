"""``hakari``: machine output on standard output, words for people on standard error.

Exit status 0 done, 2 wrong usage, 3 the input could not be used.
"""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any, TypeVar

from pydantic import ValidationError

from hakari.core.errors import InputError
from hakari.formats.base import Document, ErrorDocument, first_wrong
from hakari.formats.grinder import GrinderDocument, read_grinders
from hakari.formats.measurement import particles_csv
from hakari.formats.plan import PlanDocument
from hakari.formats.slip import SlipDocument
from hakari.service import offline_commands as computing
from hakari.service.samples.measuring import SCALE_WORDS, measure_files, overlay_png, parse_scale

D = TypeVar("D", bound=Document)
DEFAULT_DATA = Path.home() / ".local" / "share" / "hakari"


def main(argv: list[str] | None = None) -> int:
    """Run one command and return its exit status."""
    arguments = _parser().parse_args(argv)
    try:
        return int(arguments.run(arguments) or 0)
    except InputError as error:
        return _refuse(ErrorDocument.from_input_error(error), getattr(arguments, "json", False))
    except BrokenPipeError:
        return 0


def _refuse(error: ErrorDocument, as_json: bool) -> int:
    if as_json:
        print(error.model_dump_json(exclude_none=True))
    print(f"hakari: {error.message} {error.remedy}", file=sys.stderr)
    return 3


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="hakari", description="From a photo of ground coffee to the next click.")
    commands = parser.add_subparsers(dest="command", required=True)

    card = commands.add_parser("card", help="write the printable card")
    card.add_argument("--paper", choices=("pocket", "a6", "a5"), default="pocket")
    card.add_argument("--sheet", choices=("a4", "letter"))
    card.add_argument("--format", choices=("pdf", "svg", "png"), default="pdf")
    card.add_argument("--dpi", type=int, default=600)
    card.add_argument("--describe", action="store_true", help="print the card's geometry as JSON")
    card.add_argument("-o", "--output", type=Path, metavar="FILE")
    card.set_defaults(run=_card)

    measure = commands.add_parser("measure", help="measure the grounds in photos of one grind")
    measure.add_argument("photos", nargs="+", type=Path, metavar="PHOTO")
    measure.add_argument("--scale", default="card", help=SCALE_WORDS)
    measure.add_argument("--bar-mm", type=float, help="true length of the card's check bar, if the printer scaled it")
    measure.add_argument("--polarity", choices=("dark", "bright"), default="dark", help="dark things on bright paper")
    measure.add_argument("--json", action="store_true")
    measure.add_argument("--particles", type=Path, metavar="OUT.csv")
    measure.add_argument("--overlay", type=Path, metavar="OUT.png")
    measure.set_defaults(run=_measure)

    translate = commands.add_parser("translate", help="a setting on another grinder's dial")
    translate.add_argument("--from", dest="source", type=Path, required=True, metavar="A.json")
    translate.add_argument("--setting", required=True)
    translate.add_argument("--to", dest="target", type=Path, required=True, metavar="B.json")
    translate.add_argument("--from-name", help="which grinder, where A.json holds several")
    translate.add_argument("--to-name", help="which grinder, where B.json holds several")
    translate.add_argument("--match", choices=("median", "flow", "yield", "shape"), default="median")
    translate.add_argument("--plan", type=Path, metavar="PLAN.json")
    translate.add_argument("--json", action="store_true")
    translate.set_defaults(run=_translate)

    for name, run, what in (("predict", _predict, "PLAN.json"), ("advise", _advise, "SLIP.json")):
        command = commands.add_parser(name, help=f"{name} from {what}")
        command.add_argument("file", type=Path, metavar=what)
        command.add_argument("--json", action="store_true")
        command.set_defaults(run=run)

    for name, help_ in (("serve", "serve the application"), ("demo", "serve it with the demo's data")):
        serve = commands.add_parser(name, help=help_)
        serve.add_argument("--port", type=int, default=8720)
        serve.add_argument("--data", type=Path, default=None, metavar="DIR", help=f"data folder, else {DEFAULT_DATA}")
        serve.set_defaults(run=_serve)

    doctor = commands.add_parser("doctor", help="say what is wrong with an installation and how to mend it")
    doctor.add_argument("--data", type=Path, default=None, metavar="DIR")
    doctor.set_defaults(run=_doctor)
    return parser


def _read(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as error:
        raise InputError(
            "file-unreadable",
            f"{path.name} cannot be read: {error.strerror}.",
            "Check the file's name and place.",
        ) from error


def _write(path: Path, data: bytes) -> None:
    try:
        temporary = path.with_name(path.name + ".part")
        temporary.write_bytes(data)
        temporary.replace(path)
    except OSError as error:
        raise InputError(
            "file-unwritable", f"{path} cannot be written: {error.strerror}.", "Choose another place."
        ) from error


def _json(path: Path) -> Any:
    data = _read(path)
    try:
        return json.loads(data)
    except (ValueError, UnicodeDecodeError, RecursionError) as error:
        raise InputError("not-json", f"{path.name} is not JSON.", "Check the file.") from error


def _grinder(path: Path, name: str | None) -> GrinderDocument:
    grinders = read_grinders(_json(path))
    named = [g for g in grinders if name is None or g.name.lower() == name.strip().lower()]
    if len(named) != 1:
        held = ", ".join(g.name for g in grinders) or "no grinder"
        raise InputError(
            "which-grinder", f"{path.name} holds {held}.", "Say which with --from-name or --to-name.", field="grinder"
        )
    return named[0]


def _document(path: Path, kind: type[D]) -> D:
    raw = _json(path)
    try:
        return kind.model_validate(raw)
    except ValidationError as error:
        place, wrong = first_wrong(error)
        where = place or "document"
        raise InputError(
            "format-mismatch", f"{path.name}: {where}: {wrong}.", "See docs/formats.md in the project.",
            field=where,
        ) from error  # fmt: skip


def _card(a: argparse.Namespace) -> int:
    if a.describe:
        print(computing.describe_card(a.paper).model_dump_json())
    if a.output is not None:
        _write(a.output, computing.draw_card(a.paper, a.format, a.dpi, a.sheet))
        print(f"wrote {a.output}", file=sys.stderr)
    if not a.describe and a.output is None:
        raise InputError("no-output", "Nothing was asked for.", "Give -o FILE, or --describe.")
    return 0


def _measure(a: argparse.Namespace) -> int:
    scale = parse_scale(a.scale, a.bar_mm)
    files = [_read(p) for p in a.photos]
    sample = measure_files(files, scale, a.polarity)
    if a.particles:
        _write(a.particles, particles_csv(sample.particles).encode())
    if a.overlay:
        _write(a.overlay, overlay_png(files[0], sample.photos[0].particles))
    m = sample.document
    if a.json:
        print(m.model_dump_json())
        return 0
    low, high = m.ci95.d50_um
    print(f"D50 {m.d50_um:.0f} µm ({low:.0f} to {high:.0f}), D10 {m.d10_um:.0f}, D90 {m.d90_um:.0f}, span {m.span:.2f}")
    print(f"{m.particles} grounds from {m.cut_um:.0f} µm up; nothing seen below {m.resolution_limit_um:.0f} µm")
    print(f"{m.verdict.level}: {m.verdict.reason}")
    for f in m.findings:
        print(f"{f.severity}: {f.message} {f.remedy}")
    return 0


def _translate(a: argparse.Namespace) -> int:
    source, target = _grinder(a.source, a.from_name), _grinder(a.target, a.to_name)
    plan = _document(a.plan, PlanDocument) if a.plan else None
    answer = computing.translate_documents(source, a.setting, target, a.match, plan)
    if a.json:
        print(answer.model_dump_json())
        return 0
    low, high = answer.interval95_um
    print(
        f"{source.name} {a.setting} is {target.name} {answer.setting}: {answer.d50_um:.0f} µm ({low:.0f} to {high:.0f})"
    )
    if not answer.reachable:
        print(f"{target.name} does not reach {answer.target_um:.0f} µm; this is its nearest setting.")
    for n in answer.neighbours:
        print(f"  {n.setting}: {n.d50_um:.0f} µm, nearest in {100 * n.chance_nearest:.0f} of 100")
    if answer.plan:
        print(f"matched by {answer.match} in: {answer.plan}")
    for line in answer.differs + [f"assumed: {a}" for a in answer.assumptions]:
        print(line)
    return 0


def _predict(a: argparse.Namespace) -> int:
    answer = computing.predict_document(_document(a.file, PlanDocument))
    if a.json:
        print(answer.model_dump_json())
        return 0
    print(
        f"bare bed {answer.drawdown_s:.0f} s ± {answer.half_width95['drawdown_s']:.0f}, last drip {answer.last_drip_s:.0f} s"
    )
    print(f"{answer.drink_g:.0f} g at {answer.tds_percent:.2f} %, {answer.ey_percent:.1f} % extracted")
    for line in answer.assumptions:
        print(f"assumed: {line}")
    return 0


def _advise(a: argparse.Namespace) -> int:
    answer = computing.advise_document(_document(a.file, SlipDocument))
    if a.json:
        print(json.dumps(answer.dump(), ensure_ascii=False))
        return 0
    first = answer.moves[0]
    print(f"{first.words[0].upper()}{first.words[1:]}" + (f": {first.start} to {first.end}" if first.end else ""))
    print(f"bare bed {first.before.drawdown_s:.0f} to {first.after.drawdown_s:.0f} s, "
          f"strength {first.before.tds_percent:.2f} to {first.after.tds_percent:.2f} %, "
          f"extraction {first.before.ey_percent:.1f} to {first.after.ey_percent:.1f} %")  # fmt: skip
    print(first.reason)
    return 0


def _serve(a: argparse.Namespace) -> int:
    # The web stack is heavy to import and only this command needs it.
    from hakari.web.serving import serve

    data = a.data
    if data is None:
        data = DEFAULT_DATA.with_name("hakari-demo") if a.command == "demo" else DEFAULT_DATA
    return serve(data, a.port, with_demo=a.command == "demo")


def _doctor(a: argparse.Namespace) -> int:
    from hakari.service.workspace.doctor import examine

    troubles = examine(a.data or DEFAULT_DATA)
    for line in troubles:
        print(line)
    if not troubles:
        print("nothing wrong found")
    return 3 if troubles else 0


def run() -> None:
    """Entry point of the installed command."""
    sys.exit(main())


if __name__ == "__main__":
    run()
