"""The command line without a window: match, check, export, schema.

Exit code 0 when all is well, 1 with findings of severity error or when nothing fits, 2 for bad
input with a message on standard error.
"""

import argparse
import json
import sys
from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path
from typing import Any, NoReturn

from mild_badger.core.errors import BadgerError, FileAccessError, InputError
from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.findings import Severity
from mild_badger.core.kit.catalogue import load_kit
from mild_badger.core.publish.report import report
from mild_badger.core.publish.sheet import sheet_pdf
from mild_badger.core.publish.tables import gears_csv, parts_csv
from mild_badger.core.ratios.lanes import GearGoal, Impossible, SetMatch
from mild_badger.core.ratios.match import best_set, smallest_set
from mild_badger.core.ratios.pool import EVEN, ODD, build_pool
from mild_badger.core.ratios.rules import any_rules
from mild_badger.core.ratios.shafts import match_shared_centre
from mild_badger.core.ratios.standings import standings_of_sizes
from mild_badger.core.ratios.train import train_text
from mild_badger.core.targets.schools import parse_exact
from mild_badger.core.units import exact
from mild_badger.core.vehicle.codec import schema
from mild_badger.core.vehicle.kit import Kit
from mild_badger.core.vehicle.storage import load, write_atomically

__all__ = ["COMMANDS", "run"]

COMMANDS = ("match", "check", "export", "schema")
MOST_TARGETS = 24


class _Parser(argparse.ArgumentParser):
    """A parser that reports bad input as every other error is reported."""

    def error(self, message: str) -> NoReturn:
        raise InputError(f"{message[:1].upper()}{message[1:]}. Try {self.prog} --help.")


def run(arguments: list[str]) -> int:
    """Run one command and return the exit code."""
    try:
        options = _parser().parse_args(arguments)
        code: int = options.run(options)
        sys.stdout.flush()
    except BadgerError as error:
        print(f"mild-badger: {error}", file=sys.stderr)
        return 2
    except BrokenPipeError:
        sys.stderr.close()
        return 0
    return code


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="mild-badger", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True, parser_class=_Parser)

    match = commands.add_parser("match", help="find the best set of trains for a list of ratios")
    match.add_argument("--kit", default="brick-grid", help="a shipped kit or a kit file")
    match.add_argument("--targets", required=True, help="turns in per turn out, as 3.9,2.4,1.6")
    match.add_argument("--reverse", help="the reverse gear's ratio, positive")
    match.add_argument("--teeth", metavar="A-B", help="every tooth count from A to B, not a kit's")
    match.add_argument(
        "--architecture",
        choices=("slot", "layshaft", "two-shaft"),
        help="the box the set is for; left out, pairs stay free",
    )
    match.add_argument(
        "--centre-distance",
        metavar="MM",
        help="of a layshaft or two-shaft box",
    )
    match.add_argument("--max-pairs", default="2", metavar="N", help="pairs in a train, 1 to 4")
    match.add_argument("--fit", choices=("absolute", "spacing"), default="absolute")
    match.add_argument("--factor-range", default="0.5,2", metavar="A,B", help="bounds of k")
    match.add_argument("--best", choices=("error", "size"), default="error")
    match.add_argument("--tolerance", default="3", metavar="PERCENT")
    match.add_argument("--json", action="store_true")
    match.set_defaults(run=_match)

    check = commands.add_parser("check", help="say what a vehicle does and what is wrong with it")
    check.add_argument("file", type=Path)
    check.add_argument("--json", action="store_true")
    check.set_defaults(run=_check)

    export = commands.add_parser("export", help="write gears.csv, parts.csv and sheet.pdf")
    export.add_argument("file", type=Path)
    export.add_argument("--to", required=True, type=Path, metavar="DIR")
    export.set_defaults(run=_export)

    shape = commands.add_parser("schema", help="print the JSON Schema of a vehicle file")
    shape.set_defaults(run=_schema)
    return parser


def _match(options: argparse.Namespace) -> int:
    targets = _numbers(options.targets, "--targets")
    if len(targets) > MOST_TARGETS:
        raise InputError(f"--targets: {len(targets)} gears are more than {MOST_TARGETS}.")
    goals = [GearGoal(str(n), target, EVEN) for n, target in enumerate(targets, start=1)]
    if options.reverse is not None:
        goals.append(GearGoal("R", _number(options.reverse, "--reverse"), ODD))
    low, high = Fraction(1), Fraction(1)
    if options.fit == "spacing":
        bounds = _numbers(options.factor_range, "--factor-range")
        if len(bounds) != 2 or bounds[0] > bounds[1]:
            raise InputError("--factor-range: give two rising numbers, as 0.5,2.")
        low, high = bounds
    if options.max_pairs not in ("1", "2", "3", "4"):
        raise InputError(f"--max-pairs: {options.max_pairs!r} must be 1, 2, 3 or 4.")
    tolerance = _number(options.tolerance, "--tolerance", most=100) / 100
    within = tolerance if options.best == "size" else None
    question = _Question(tuple(goals), low, high, within)
    extra: dict[str, Any] = {}
    if options.architecture in ("layshaft", "two-shaft"):
        found, extra = _shared_centre(options, question)
    else:
        found = _free_pairs(options, question)
    if isinstance(found, Impossible):
        print(f"mild-badger: {found.reason}", file=sys.stderr)
        if options.json:
            print(json.dumps({"fit": options.fit, "gears": [], "reason": found.reason}))
        return 1
    if options.json:
        print(json.dumps({**_match_data(found, options.fit), **extra}, indent=2))
    else:
        _print_match(found)
        for name, value in extra.items():
            print(f"{name.replace('_', ' ')} {value}")
    return 0


@dataclass(frozen=True)
class _Question:
    """What is asked of any box; ``tolerance`` None asks for the least worst error."""

    goals: tuple[GearGoal, ...]
    low: Fraction
    high: Fraction
    tolerance: Fraction | None


def _free_pairs(options: argparse.Namespace, question: _Question) -> SetMatch | Impossible:
    if options.centre_distance is not None:
        raise InputError("--centre-distance: only a layshaft or a two-shaft box has one.")
    kit, sizes = _sizes(options)
    rules = any_rules(sizes, int(options.max_pairs))
    dogs = options.architecture == "slot" and kit is not None
    if dogs and kit is not None:  # every size of a tooth range may have dogs
        rules = replace(rules, last_driven=kit.dog_sizes)
    pool = build_pool(rules, cheapest_only=not dogs)
    low, high = question.low, question.high
    if question.tolerance is None:
        return best_set(pool, question.goals, low=low, high=high)
    return smallest_set(pool, question.goals, low=low, high=high, tolerance=question.tolerance)


def _shared_centre(
    options: argparse.Namespace, question: _Question
) -> tuple[SetMatch | Impossible, dict[str, Any]]:
    kit, sizes = _sizes(options)
    module = 1.0 if kit is None else kit.module_mm
    tooth_sum = None
    if options.centre_distance is not None:
        distance = _number(options.centre_distance, "--centre-distance", most=10_000)
        total = 2 * distance / exact(module)
        if total.denominator != 1:
            raise InputError(
                f"--centre-distance: {options.centre_distance} mm is no whole tooth sum with "
                f"module {module:g}; the nearest is {round(total) * module / 2:g} mm."
            )
        tooth_sum = int(total)
    found = match_shared_centre(
        options.architecture,
        standings_of_sizes(sizes, module_mm=module),
        question.goals,
        low=question.low,
        high=question.high,
        tolerance=question.tolerance,
        tooth_sum=tooth_sum,
    )
    if isinstance(found, Impossible):
        return found, {}
    extra: dict[str, Any] = {
        "architecture": options.architecture,
        "tooth_sum": found.tooth_sum,
        "centre_distance_mm": found.tooth_sum * module / 2,
    }
    return found.found, extra


def _sizes(options: argparse.Namespace) -> tuple[Kit | None, tuple[int, ...]]:
    """Give the kit and its sizes, or no kit and a range of tooth counts."""
    if options.teeth is None:
        kit = load_kit(options.kit)
        return kit, kit.sizes
    ends = options.teeth.split("-")
    if len(ends) != 2 or not all(end.isascii() and end.isdigit() for end in ends):
        raise InputError(f"--teeth: {options.teeth!r} is no range; write it as 8-40.")
    first, last = (int(end[:6]) for end in ends)
    if not 4 <= first <= last <= 400:
        raise InputError(f"--teeth: {options.teeth} must rise, from 4 to 400.")
    return None, tuple(range(first, last + 1))


def _match_data(found: SetMatch, fit: str) -> dict[str, Any]:
    return {
        "fit": fit,
        "factor": found.factor,
        "worst_error_percent": found.worst_error_percent,
        "pairs": found.cost.pairs,
        "gears_used": found.cost.gears,
        "gears": [
            {
                "name": gear.goal.name,
                "target": float(gear.goal.target),
                "ratio": str(-gear.ratio if gear.goal.parity == ODD else gear.ratio),
                "error_percent": gear.error_percent,
                "train": [[pair.driver, pair.driven] for pair in gear.train],
                "idlers": sum(len(pair.idlers) for pair in gear.train),
            }
            for gear in found.gears
        ],
    }


def _print_match(found: SetMatch) -> None:
    print(f"factor {found.factor:.4f}, worst error {found.worst_error_percent:.3f} %")
    for gear in found.gears:
        sign = "-" if gear.goal.parity == ODD else ""
        print(
            f"{gear.goal.name:>3}  {float(gear.goal.target):8.3f}  {sign + str(gear.ratio):>10}  "
            f"{gear.error_percent:+7.3f} %  {train_text(gear.train)}"
        )


def _check(options: argparse.Namespace) -> int:
    evaluation = evaluate(load(options.file))
    if options.json:
        print(json.dumps(report(evaluation), indent=2, ensure_ascii=False))
    else:
        _print_check(evaluation)
    return int(any(f.severity is Severity.ERROR for f in evaluation.findings))


def _print_check(evaluation: Evaluation) -> None:
    print(evaluation.vehicle.name)
    for row in report(evaluation)["gears"]:
        if row["ratio"] is None:
            print(f"{row['name']:>3}  {row['state']}")
            continue
        print(
            f"{row['name']:>3}  {row['ratio']:>8}  {row['error_percent']:+6.2f} %  "
            f"{row['direction']:<9}  {row['wheel_rpm']:8.1f} rpm  "
            f"{row['model_speed_m_s']:6.2f} m/s  {row['scale_speed_km_h']:6.1f} km/h at scale"
        )
    for finding in evaluation.findings:
        print(f"{finding.severity.value}: {finding.title}. {finding.text}")


def _export(options: argparse.Namespace) -> int:
    evaluation = evaluate(load(options.file))
    folder: Path = options.to
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileAccessError(f"Cannot make the folder {folder}: {error.strerror}.") from error
    for name, data in (
        ("gears.csv", gears_csv(evaluation).encode()),
        ("parts.csv", parts_csv(evaluation).encode()),
        ("sheet.pdf", sheet_pdf(evaluation)),
    ):
        write_atomically(folder / name, data)
        print(folder / name)
    return int(any(f.severity is Severity.ERROR for f in evaluation.findings))


def _schema(_options: argparse.Namespace) -> int:
    print(json.dumps(schema(), indent=2))
    return 0


def _numbers(text: str, option: str) -> list[Fraction]:
    return [_number(part, option) for part in text.split(",")]


def _number(text: str, option: str, *, most: int = 1000) -> Fraction:
    value = parse_exact(text, what=option)
    if not 0 < value <= most:
        raise InputError(f"{option}: {text!r} must be greater than 0 and at most {most}.")
    return value
