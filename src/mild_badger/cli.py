"""The command line without a window: match, check, place, solve, export, trial, rig, schema.

Exit code 0 when all is well, 1 with findings of severity error or when nothing fits, 2 for bad
input with a message on standard error.
"""

import argparse
import sys
from dataclasses import asdict
from pathlib import Path
from typing import NoReturn

from mild_badger.cli_collide import run_collide
from mild_badger.cli_match import add_match_options, run_match
from mild_badger.cli_place import add_place_options, placed_first, run_place
from mild_badger.cli_trial import add_rig_options, add_trial_options, run_rig, run_trial
from mild_badger.core.components.model import MODEL_FORMS
from mild_badger.core.drivetrain.graph_file import graph_report, graph_schema, read_graph
from mild_badger.core.errors import DocumentError, InputError
from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.figures import in_km_h, in_m_s, write
from mild_badger.core.findings.catalogue import CATALOGUE
from mild_badger.core.findings.finding import Severity
from mild_badger.core.message import say
from mild_badger.core.publish.book import CHAPTERS
from mild_badger.core.publish.report import report
from mild_badger.core.vehicle.codec import schema
from mild_badger.core.vehicle.format_text import format_text
from mild_badger.core.vehicle.model import GearTarget, Vehicle
from mild_badger.core.words import capitalized, listed, word
from mild_badger.files.exports import export
from mild_badger.files.reader import read_file, shown
from mild_badger.files.vehicle_file import load
from mild_badger.terminal import guarded, interruptible, show, show_json

__all__ = ["COMMANDS", "run"]

COMMANDS = (
    "match",
    "check",
    "findings",
    "place",
    "collide",
    "solve",
    "export",
    "trial",
    "rig",
    "schema",
)


class _CommandParser(argparse.ArgumentParser):
    """A parser that reports bad input as every other error is reported."""

    def error(self, message: str) -> NoReturn:
        raise InputError(say("command-line.try-help", message=capitalized(message), prog=self.prog))


def run(arguments: list[str]) -> int:
    """Run one command and return the exit code."""

    def work() -> int:
        options = _parser().parse_args(arguments)
        code: int = options.run(options)
        return code

    return guarded(lambda: interruptible(work))


def _parser() -> argparse.ArgumentParser:
    parser = _CommandParser(prog="mild-badger", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_CommandParser)

    match = commands.add_parser(
        "match", help=say("command-line.find-the-best-set-of-trains-for-a-list-of")
    )
    add_match_options(match)
    match.set_defaults(run=run_match)

    check = commands.add_parser(
        "check", help=say("command-line.say-what-a-vehicle-does-and-what-is-wrong")
    )
    check.add_argument("file", type=Path)
    check.add_argument("--json", action="store_true")
    check.set_defaults(run=_check)

    findings = commands.add_parser(
        "findings", help=say("command-line.list-every-finding-there-can-be")
    )
    findings.add_argument("--json", action="store_true")
    findings.set_defaults(run=_findings)

    place = commands.add_parser(
        "place", help=say("command-line.place-a-whole-slot-box-on-the-grid")
    )
    add_place_options(place)
    place.set_defaults(run=run_place)

    collide = commands.add_parser(
        "collide", help=say("command-line.prove-by-solids-that-no-two-parts-touch")
    )
    collide.add_argument("file", type=Path)
    collide.add_argument("--json", action="store_true")
    collide.set_defaults(run=run_collide)

    solve = commands.add_parser(
        "solve", help=say("command-line.look-over-and-solve-a-drivetrain-of-any-make")
    )
    solve.add_argument("file", type=Path)
    solve.add_argument("--json", action="store_true")
    solve.set_defaults(run=_solve)

    export = commands.add_parser(
        "export", help=say("command-line.write-tables-the-sheet-and-the-shifters")
    )
    export.add_argument("file", type=Path)
    export.add_argument("--to", required=True, type=Path, metavar="DIR")
    export.add_argument(
        "--templates",
        action="store_true",
        help=say("command-line.every-template-too-as-svg-dxf-pdf-and-stl"),
    )
    export.add_argument(
        "--model", choices=MODEL_FORMS, help=say("command-line.the-placed-box-as-one-3d-file")
    )
    export.add_argument(
        "--whole", choices=MODEL_FORMS, help=say("command-line.the-whole-vehicle-as-one-3d-file")
    )
    export.add_argument(
        "--position", metavar="GEAR", help=say("command-line.gear-that-is-in-in-the-3d-file")
    )
    export.add_argument(
        "--apart", action="store_true", help=say("command-line.parts-of-the-3d-file-drawn-apart")
    )
    export.add_argument(
        "--book", action="store_true", help=say("command-line.the-plan-book-too-as-plan-book-pdf")
    )
    export.add_argument(
        "--chapters",
        metavar="A,B",
        default="",
        help=say("command-line.only-these-chapters-of-the-book", listed=", ".join(CHAPTERS)),
    )
    export.add_argument(
        "--gear", help=say("command-line.gear-whose-power-path-is-drawn-on-the-cover")
    )
    export.set_defaults(run=_export)

    trial = commands.add_parser(
        "trial", help=say("command-line.the-trial-list-readings-and-what-explains")
    )
    add_trial_options(trial)
    trial.set_defaults(run=run_trial)

    rig = commands.add_parser("rig", help=say("command-line.a-stand-in-tachometer-pulses-of-this"))
    add_rig_options(rig)
    rig.set_defaults(run=run_rig)

    shape = commands.add_parser(
        "schema", help=say("command-line.print-the-json-schema-of-a-file-format")
    )
    shape.add_argument("--of", choices=("vehicle", "graph"), default="vehicle")
    shape.add_argument(
        "--markdown",
        action="store_true",
        help=say("command-line.describe-the-vehicle-file-for-a-reader"),
    )
    shape.set_defaults(run=_schema)
    return parser


def _findings(options: argparse.Namespace) -> int:
    """List the catalogue: code, how bad, the figure it carries, where it is seen to."""
    if options.json:
        kinds = [
            {**asdict(kind), "severities": [s.value for s in kind.severities]}
            for kind in CATALOGUE.values()
        ]
        show_json(kinds)
        return 0
    for kind in sorted(CATALOGUE.values(), key=lambda kind: kind.code):
        bad = listed([word(severity.value) for severity in kind.severities], "or")
        figure = kind.figure + (say("command-line.in", unit=kind.unit) if kind.unit else "")
        place = (
            say("command-line.page", tab=kind.tab, page=kind.page)
            if kind.page
            else kind.tab or say("command-line.graph-file")
        )
        print(f"{kind.code:<24} {bad:<16} {place:<22} {figure}".rstrip())
    return 0


def _check(options: argparse.Namespace) -> int:
    evaluation = evaluate(load(options.file))
    if options.json:
        show_json(report(evaluation))
    else:
        _print_check(evaluation)
    return int(any(f.severity is Severity.ERROR for f in evaluation.findings))


def _print_check(evaluation: Evaluation) -> None:
    units = evaluation.vehicle.shown_in
    print(evaluation.vehicle.name)
    for row in report(evaluation)["gears"]:
        if row["ratio"] is None:
            print(f"{row['name']:>3}  {row['state']}")
            continue
        model = write(in_m_s(row["model_speed_m_s"], 2), units)
        scale = write(in_km_h(row["scale_speed_km_h"], 1), units)
        print(
            f"{row['name']:>3}  {row['ratio']:>8}  {row['error_percent']:+6.2f} %  "
            f"{row['direction']:<9}  {row['wheel_rpm']:8.1f} rpm  "
            f"{model:>10}  {scale:>10} at scale"
        )
    show(evaluation.proof.summary, units)
    for finding in evaluation.findings:
        show(f"{word(finding.severity.value)}: {finding.title}. {finding.text}", units)


def _export(options: argparse.Namespace) -> int:
    vehicle = load(options.file)
    chosen = _gear_called(vehicle, options.gear)
    neutral = options.position in (None, "N")
    position = None if neutral else _gear_called(vehicle, options.position)
    if options.model is not None or options.whole is not None:
        vehicle = placed_first(vehicle)
    written = export(
        vehicle,
        options.to,
        templates=options.templates,
        model=options.model,
        whole=options.whole,
        position=None if position is None else position.id,
        apart=options.apart,
        book=options.book,
        chapters=tuple(filter(None, (name.strip() for name in options.chapters.split(",")))),
        gear=None if chosen is None else chosen.id,
    )
    for path in written.paths:
        print(path)
    for sentence in written.refused:
        print(
            write(say("command-line.not-drawn", sentence=sentence), vehicle.shown_in),
            file=sys.stderr,
        )
    return int(any(f.severity is Severity.ERROR for f in evaluate(vehicle).findings))


def _gear_called(vehicle: Vehicle, name: str | None) -> GearTarget | None:
    gear = None if name is None else vehicle.gear_called(name)
    if name is not None and gear is None:
        raise InputError(say("command-line.the-vehicle-has-no-gear", gear=name))
    return gear


def _solve(options: argparse.Namespace) -> int:
    name = shown(Path(options.file.name))
    try:
        graph = read_graph(read_file(options.file))
    except DocumentError as error:
        raise DocumentError(f"{name}: {error}") from error
    data, findings = graph_report(graph)
    if options.json:
        show_json(data)
    else:
        for body in data["bodies"]:
            speed = body["speed"] if body["speed"] is not None else ""
            print(f"{body['id']:<24} {body['motion']:<8} {speed:>12}")
        if data.get("fighting"):
            print(say("command-line.these-fight", listed=", ".join(data["fighting"])))
        power = data["power"]
        if power is not None:
            print(
                say(
                    "command-line.in-out-lost",
                    power=power["in"],
                    power_2=power["out"],
                    power_3=power["lost"],
                )
            )
        for finding in findings:
            show(f"{word(finding.severity.value)}: {finding.title}. {finding.text}")
    return int(bool(data.get("locked")) or any(f.severity is Severity.ERROR for f in findings))


def _schema(options: argparse.Namespace) -> int:
    if options.markdown and options.of == "graph":
        raise InputError(say("command-line.markdown-describes-the-vehicle-file-only"))
    if options.markdown:
        sys.stdout.write(format_text())
        return 0
    show_json(graph_schema() if options.of == "graph" else schema())
    return 0
