"""``hakari``: machine output on standard output, words for people on standard error.

Exit status 0 done, 2 wrong usage, 3 the input could not be used.
"""

from __future__ import annotations

import argparse
import importlib
import sys
from pathlib import Path

from hakari.core.errors import InputError

DEFAULT_DATA = Path.home() / ".local" / "share" / "hakari"


def main(argv: list[str] | None = None) -> int:
    """Run one command and return its exit status."""
    arguments = _parser().parse_args(argv)
    # Only what a command needs is loaded: the web stack alone takes a second.
    command = importlib.import_module(f"hakari.cli.{arguments.module}")
    try:
        return int(command.run(arguments) or 0)
    except InputError as error:
        return _refuse(error, getattr(arguments, "json", False))
    except BrokenPipeError:
        return 0


def _refuse(error: InputError, as_json: bool) -> int:
    if as_json:
        from hakari.formats.base import ErrorDocument

        print(ErrorDocument.from_input_error(error).model_dump_json(exclude_none=True))
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
    card.set_defaults(module="card")

    measure = commands.add_parser("measure", help="measure the grounds in photos of one grind")
    measure.add_argument("photos", nargs="+", type=Path, metavar="PHOTO")
    measure.add_argument("--scale", default="card", help="card, disc:DIAMETER_MM or points:X1,Y1,X2,Y2,DISTANCE_MM")
    measure.add_argument("--bar-mm", type=float, help="true length of the card's check bar, if the printer scaled it")
    measure.add_argument("--polarity", choices=("dark", "bright"), default="dark", help="dark things on bright paper")
    measure.add_argument("--json", action="store_true")
    measure.add_argument("--particles", type=Path, metavar="OUT.csv")
    measure.add_argument("--overlay", type=Path, metavar="OUT.png")
    measure.set_defaults(module="measure")

    translate = commands.add_parser("translate", help="a setting on another grinder's dial")
    translate.add_argument("--from", dest="source", type=Path, required=True, metavar="A.json")
    translate.add_argument("--setting", required=True)
    translate.add_argument("--to", dest="target", type=Path, required=True, metavar="B.json")
    translate.add_argument("--from-name", help="which grinder, where A.json holds several")
    translate.add_argument("--to-name", help="which grinder, where B.json holds several")
    translate.add_argument("--match", choices=("median", "flow", "yield", "shape"), default="median")
    translate.add_argument("--plan", type=Path, metavar="PLAN.json")
    translate.add_argument("--json", action="store_true")
    translate.set_defaults(module="translate")

    for name, what, help_ in (
        ("predict", "PLAN.json", "predict a brew"),
        ("advise", "SLIP.json", "say what to change next"),
        ("experiment", "FILE.json", "say what an experiment can show, and what it shows so far"),
    ):
        command = commands.add_parser(name, help=help_)
        command.add_argument("file", type=Path, metavar=what)
        command.add_argument("--json", action="store_true")
        command.set_defaults(module=name)

    batch = commands.add_parser("batch", help="measure many photos, on every core or a cluster; goes on where it was")
    batch.add_argument("source", metavar="FOLDER|PATTERN|LIST.csv")
    batch.add_argument("-o", "--output", type=Path, required=True, metavar="FILE.parquet|.csv|.jsonl")
    batch.add_argument("--scale", default="card", help="where a list does not say it: as in hakari measure")
    batch.add_argument("--jobs", type=int, metavar="N", help="processes on this computer, else one a core")
    batch.add_argument("--scheduler", metavar="ADDRESS", help="of a Dask cluster: tcp://host:8786")
    batch.add_argument(
        "--shared-photos", action="store_true", help="workers read the photos themselves, by the same paths or URLs"
    )
    batch.add_argument("--particles", type=Path, metavar="DIR", help="a CSV of grounds a photo")
    batch.add_argument("--strict", action="store_true", help="exit with 3 where a photo failed")
    batch.add_argument("--quiet", action="store_true", help="no progress bar")
    batch.set_defaults(module="batch")

    report = commands.add_parser("report", help="control charts of a batch, as one page")
    report.add_argument("file", type=Path, metavar="FILE")
    report.add_argument("-o", "--output", type=Path, required=True, metavar="report.html")
    report.set_defaults(module="report")

    for name, help_, folder in (
        ("serve", "serve the application", DEFAULT_DATA),
        ("demo", "serve it with the demo's data", DEFAULT_DATA.with_name("hakari-demo")),
    ):
        serve = commands.add_parser(name, help=help_)
        serve.add_argument("--port", type=int, default=8720)
        _add_storage(serve, folder)
        serve.add_argument("--scheduler", metavar="ADDRESS", help="of a Dask cluster that measures: tcp://host:8786")
        reach = serve.add_mutually_exclusive_group()
        reach.add_argument(
            "--lan", action="store_true", help="serve phones and tablets in this computer's networks too"
        )
        reach.add_argument("--host", metavar="ADDRESS", help="serve on one more address of this computer")
        serve.add_argument(
            "--name", help="what to be called in the network: bar for bar.local, else the computer's name"
        )
        serve.add_argument("--certificate", type=Path, metavar="FILE.pem", help="serve by HTTPS")
        serve.add_argument("--key", type=Path, metavar="FILE.pem", help="the certificate's key")
        serve.set_defaults(module="serve")

    certificate = commands.add_parser("certificate", help="make a certificate for HTTPS in your own network")
    certificate.add_argument("-o", "--output", type=Path, default=DEFAULT_DATA.with_name("hakari-https"), metavar="DIR")
    certificate.add_argument("--name", action="append", default=[], help="one more name or address of this computer")
    certificate.set_defaults(module="certificate")

    doctor = commands.add_parser("doctor", help="say what is wrong with an installation and how to repair it")
    _add_storage(doctor, DEFAULT_DATA)
    doctor.add_argument("--fix", action="store_true", help="repair what can be repaired without losing anything")
    doctor.add_argument(
        "--take-in", action="store_true", help="have photos that were set aside in found/ measured when a server runs"
    )
    doctor.set_defaults(module="doctor")

    restore = commands.add_parser("restore", help="put a daily copy of the database in place; nothing is deleted")
    restore.add_argument("copy", nargs="?", metavar="COPY", help="a copy's name, day or file, else the newest")
    restore.add_argument("--data", type=Path, default=DEFAULT_DATA, metavar="DIR", help="data folder, else %(default)s")
    restore.set_defaults(module="restore")

    export = commands.add_parser("export", help="everything in one ZIP")
    export.add_argument("-o", "--output", type=Path, required=True, metavar="FILE.zip")
    import_ = commands.add_parser("import", help="add what a ZIP holds; nothing comes twice")
    import_.add_argument("file", type=Path, metavar="FILE.zip")
    import_.add_argument(
        "--existing", choices=("keep", "replace"), default="keep",
        help="what becomes of rows that were changed or deleted here since: they stay, or become as in the ZIP",
    )  # fmt: skip
    for command in (export, import_):
        _add_storage(command, DEFAULT_DATA)
        command.set_defaults(module="archive")
    return parser


def _add_storage(command: argparse.ArgumentParser, folder: Path) -> None:
    command.add_argument("--data", type=Path, default=folder, metavar="DIR", help="data folder, else %(default)s")
    command.add_argument(
        "--database", metavar="URL", help="a shared one: postgresql+psycopg://user@host/name; else $HAKARI_DATABASE"
    )
    command.add_argument("--files", metavar="DIR|URL", help="where photos are: s3://bucket/folder; else $HAKARI_FILES")


def run() -> None:
    """Entry point of the installed command."""
    sys.exit(main())


if __name__ == "__main__":
    run()
