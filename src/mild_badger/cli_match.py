"""The command ``match``: sets of trains for a list of ratios, in any architecture."""

import argparse
import sys
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from mild_badger.core.architectures.match import match_box
from mild_badger.core.architectures.registry import ARCHITECTURES, searches
from mild_badger.core.driveline.efficiency import trains_alone
from mild_badger.core.errors import InputError
from mild_badger.core.figures import in_mm, in_module, plain
from mild_badger.core.message import say
from mild_badger.core.ratios.box_question import BoxMatch, Kind, stock_of
from mild_badger.core.ratios.deep import best_deep, build_deep, is_deep, smallest_deep
from mild_badger.core.ratios.lanes import GearGoal, Impossible, SetMatch, lanes_of
from mild_badger.core.ratios.match import best_set, smallest_set
from mild_badger.core.ratios.pool import EVEN, ODD, build_pool
from mild_badger.core.ratios.ranges import RangeMatch, speeds_of
from mild_badger.core.ratios.rules import Rules, any_rules
from mild_badger.core.ratios.shafts import SharedCentreMatch
from mild_badger.core.ratios.stocked import (
    best_stocked,
    pool_trains,
    smallest_stocked,
    used_by,
)
from mild_badger.core.ratios.tradeoffs import Stock, trade_offs
from mild_badger.core.ratios.train import train_text
from mild_badger.core.ratios.twin import TwinMatch
from mild_badger.core.targets.schools import parse_exact
from mild_badger.core.units import exact
from mild_badger.core.vehicle.blank import blank_vehicle
from mild_badger.core.vehicle.box import Slot
from mild_badger.core.vehicle.boxes import LayshaftBox, SlotBox
from mild_badger.core.vehicle.kit import Kit, MadeGears
from mild_badger.core.vehicle.model import SearchSettings, Vehicle
from mild_badger.files.kit_file import load_kit
from mild_badger.terminal import show, show_json
from mild_badger.text.quantities import parse_quantity

__all__ = ["add_match_options", "run_match"]

LONGEST_MM = 10_000

MOST_TARGETS = 24
AUTO = tuple(found.searches[0].kind for found in ARCHITECTURES if found.searches)


def add_match_options(parser: argparse.ArgumentParser) -> None:
    """Declare what the command takes."""
    add = parser.add_argument
    add("--kit", metavar="FILE", help=say("command-line.a-shipped-kit-or-a-kit-file-brick-grid"))
    add("--targets", required=True, help=say("command-line.turns-in-per-turn-out-as-3-9-2-4-1-6"))
    add("--reverse", help=say("command-line.the-reverse-gears-ratio-positive"))
    add("--teeth", metavar="A-B", help=say("command-line.every-tooth-count-from-a-to-b-not-a-kits"))
    add(
        "--architecture",
        choices=(*searches(), "auto"),
        help=say("command-line.the-box-the-set-is-for-auto-takes-the-best"),
    )
    add(
        "--centre-distance",
        metavar="LENGTH",
        help=say("command-line.centre-distance-of-a-layshaft-or-two-shaft"),
    )
    add(
        "--max-centre",
        metavar="LENGTH",
        help=say("command-line.greatest-centre-distance-of-a-pair-in-mm-or"),
    )
    add("--max-pairs", default="2", metavar="N", help=say("command-line.pairs-in-a-train-1-to-4"))
    add("--max-gears", metavar="N", help=say("command-line.gears-in-a-train-idlers-among-them"))
    add("--stock", action="store_true", help=say("command-line.use-no-more-gears-than-the-kit-has"))
    add(
        "--seated",
        action="store_true",
        help=say("command-line.every-mesh-sits-on-whole-units-of-the-kits"),
    )
    add(
        "--profile-shift",
        action="store_true",
        help=say("command-line.tooth-sums-between-two-shafts-may-differ-by"),
    )
    add(
        "--shared-slider",
        action="store_true",
        help=say("command-line.one-sliding-gear-serves-reverse-and-the"),
    )
    add("--fit", choices=("absolute", "spacing"), default="absolute")
    add(
        "--factor-range",
        metavar="A,B",
        help=say("command-line.smallest-and-largest-common-factor-of-the"),
    )
    add("--best", choices=("error", "size"), default="error")
    add(
        "--tolerance",
        metavar="PERCENT",
        help=say("command-line.greatest-error-of-a-ratio-in-the-smallest"),
    )
    add(
        "--pareto",
        action="store_true",
        help=say("command-line.list-every-set-worth-having-fewest-gears"),
    )
    add("--json", action="store_true")


@dataclass(frozen=True)
class _Question:
    """What is asked of any box; ``tolerance`` None asks for the least worst error."""

    kit: Kit
    ranged: bool
    goals: tuple[GearGoal, ...]
    low: Fraction
    high: Fraction
    tolerance: Fraction | None
    max_pairs: int
    max_gears: int | None
    max_centre: Fraction | None


def run_match(options: argparse.Namespace) -> int:
    """Answer, print, and return the exit code."""
    _refuse_unused(options)
    question = _question(options)
    if options.pareto:
        return _pareto(options, question)
    if options.architecture is None:
        matched: SetMatch | Impossible = _free_pairs(options, question)
        if isinstance(matched, Impossible):
            return _nothing(options, matched.reason)
        return _show(options, matched, {})
    vehicle = _vehicle(options, question)
    if options.architecture == "auto":
        return _auto(options, question, vehicle)
    match = _box(options, question, vehicle, options.architecture)
    if isinstance(match, Impossible):
        return _nothing(options, match.reason)
    return _show(options, match.found, _box_data(match, question))


def _refuse_unused(options: argparse.Namespace) -> None:
    """Refuse what would be passed over: an answer must have been asked for as it was asked.

    Raises
    ------
    InputError
        An option that has no effect with the others.
    """
    free, boxes = options.architecture is None, ("layshaft", "layshaft-slide", "two-shaft")
    shared = (*boxes, "twin-layshaft", "range-splitter", "auto")
    for given, kept, why in (
        (
            options.seated,
            not free and not options.pareto,
            say("command-line.seated-only-a-box-has-meshes-that-sit-on-a"),
        ),
        (
            options.profile_shift,
            options.architecture in shared and not options.pareto,
            say("command-line.profile-shift-only-pairs-between-shafts-can"),
        ),
        (
            options.shared_slider,
            options.architecture == "layshaft-slide" and not options.pareto,
            say("command-line.shared-slider-only-sliding-gears-can"),
        ),
        (
            options.factor_range is not None,
            options.fit == "spacing",
            say("command-line.factor-range-only-the-spacing-fit-has-a"),
        ),
        (
            options.tolerance is not None,
            options.best == "size" and not options.pareto,
            say("command-line.tolerance-only-the-smallest-set-is-bound-by"),
        ),
        (
            options.best == "size",
            not options.pareto,
            say("command-line.best-pareto-lists-all-sets-worth-having"),
        ),
        (
            options.centre_distance is not None,
            options.architecture in boxes,
            say("command-line.centre-distance-only-a-layshaft-or-a-two"),
        ),
        (
            options.teeth is not None,
            options.kit is None,
            say("command-line.kit-teeth-makes-every-count-of-its-range"),
        ),
    ):
        if given and not kept:
            raise InputError(why)


def _question(options: argparse.Namespace) -> _Question:
    targets = _numbers(options.targets, "--targets")
    if len(targets) > MOST_TARGETS:
        raise InputError(
            say(
                "command-line.targets-gears-are-more-than",
                count_of_targets=len(targets),
                most_targets=MOST_TARGETS,
            )
        )
    goals = [GearGoal(str(n), target, EVEN) for n, target in enumerate(targets, start=1)]
    if options.reverse is not None:
        goals.append(GearGoal("R", _number(options.reverse, "--reverse"), ODD))
    low, high = Fraction(1), Fraction(1)
    if options.fit == "spacing":
        bounds = _numbers(options.factor_range or "0.5,2", "--factor-range")
        if len(bounds) != 2 or bounds[0] > bounds[1]:
            raise InputError(say("command-line.factor-range-give-two-rising-numbers-as-0-5"))
        low, high = bounds
    if options.max_pairs not in ("1", "2", "3", "4"):
        raise InputError(
            say("command-line.max-pairs-must-be-1-2-3-or-4", max_pairs=options.max_pairs)
        )
    most = options.max_gears
    if most is not None and not (most.isascii() and most.isdigit() and 2 <= int(most) <= 24):
        raise InputError(say("command-line.max-gears-must-be-a-whole-number-from-2-to", most=most))
    centre = options.max_centre
    tolerance = _number(options.tolerance or "3", "--tolerance", most=100) / 100
    kit, ranged = _kit(options)
    if options.stock and ranged:
        raise InputError(say("command-line.stock-a-range-of-teeth-has-no-stock-name-a"))
    return _Question(
        kit=kit,
        ranged=ranged,
        goals=tuple(goals),
        low=low,
        high=high,
        tolerance=tolerance if options.best == "size" else None,
        max_pairs=int(options.max_pairs),
        max_gears=None if most is None else int(most),
        max_centre=None if centre is None else _length(centre, "--max-centre"),
    )


def _kit(options: argparse.Namespace) -> tuple[Kit, bool]:
    """Give the kit, or one of module 1 that makes a range of tooth counts; and which it is."""
    if options.teeth is None:
        return load_kit(options.kit or "brick-grid"), False
    ends = options.teeth.split("-")
    if len(ends) != 2 or not all(end.isascii() and end.isdigit() for end in ends):
        raise InputError(
            say("command-line.teeth-is-no-range-write-it-as-8-40", teeth=options.teeth)
        )
    first, last = (int(end[:6]) for end in ends)
    if not 4 <= first <= last <= 400:
        raise InputError(say("command-line.teeth-must-rise-from-4-to-400", teeth=options.teeth))
    made = MadeGears(least_teeth=first, most_teeth=last, face_width_mm=10)
    kit = Kit(
        name=say("command-line.to-teeth", first=first, last=last),
        kind="wood",
        grid_unit_mm=10,
        module_mm=1,
        pressure_angle_deg=20,
        shaft_diameter_mm=4,
        mesh_loss=0.04,
        shaft_stock=None,
        sleeve_stock=None,
        made=made,
    )
    return kit, True


def _rules(options: argparse.Namespace, question: _Question) -> Rules:
    sums = None
    if question.max_centre is not None:
        sums = int(2 * question.max_centre / exact(question.kit.module_mm))
    return any_rules(
        question.kit.sizes,
        question.max_pairs,
        max_tooth_sum=sums,
        max_gears=question.max_gears,
    )


def _free_pairs(options: argparse.Namespace, question: _Question) -> SetMatch | Impossible:
    rules = _rules(options, question)
    low, high, goals = question.low, question.high, question.goals
    if options.stock:
        pool = build_pool(rules)
        lanes = lanes_of(pool, goals)
        if isinstance(lanes, Impossible):
            return lanes
        have = stock_of(question.kit, any_bore=True)
        trains, usage = pool_trains(pool, lanes), used_by(free=None, any_bore=True)
        if question.tolerance is None:
            return best_stocked(lanes, trains, usage, have, low=low, high=high)
        return smallest_stocked(
            lanes, trains, usage, have, low=low, high=high, tolerance=question.tolerance
        )
    if is_deep(rules):
        deep = build_deep(rules)
        if question.tolerance is None:
            return best_deep(deep, goals, low=low, high=high)
        return smallest_deep(deep, goals, low=low, high=high, tolerance=question.tolerance)
    pool = build_pool(rules, cheapest_only=rules.any_meshes)
    if question.tolerance is None:
        return best_set(pool, goals, low=low, high=high)
    return smallest_set(pool, goals, low=low, high=high, tolerance=question.tolerance)


def _vehicle(options: argparse.Namespace, question: _Question) -> Vehicle:
    """Give a vehicle that stands for the options: its kit and its search settings."""
    search = SearchSettings(
        fit=options.fit,
        max_pairs=question.max_pairs,
        tolerance_percent=50 if question.tolerance is None else float(100 * question.tolerance),
        factor_low=max(float(question.low), 0.01),
        factor_high=min(float(question.high), 100.0),
        max_gears=question.max_gears,
        max_centre_mm=None if question.max_centre is None else float(question.max_centre),
        within_stock=options.stock,
        seated=options.seated,
        profile_shift=options.profile_shift,
    )
    vehicle = blank_vehicle(question.kit)
    slides = LayshaftBox(engagement="slide", shared_slider=True)
    box = slides if options.shared_slider else SlotBox()
    return vehicle.model_copy(update={"search": search, "box": box})


def _box(
    options: argparse.Namespace, question: _Question, vehicle: Vehicle, kind: Kind
) -> BoxMatch | Impossible:
    best = "error" if question.tolerance is None else "size"
    total = None
    if options.centre_distance is not None:
        module = exact(question.kit.module_mm)
        distance = _length(options.centre_distance, "--centre-distance")
        exact_sum = 2 * distance / module
        if exact_sum.denominator != 1:
            nearest = round(exact_sum) * question.kit.module_mm / 2
            raise InputError(
                say(
                    "command-line.centre-distance-is-no-whole-tooth-sum-with",
                    distance=in_mm(float(distance)),
                    module_mm=in_module(question.kit.module_mm),
                    nearest=in_mm(nearest),
                )
            )
        total = int(exact_sum)
    return match_box(
        vehicle,
        kind,
        best="error" if best == "error" else "size",
        goals=question.goals,
        tooth_sum=total,
        any_coupled=kind not in ("slot", "slot-sum"),
        spare_final_drive=True,
    )


def _auto(options: argparse.Namespace, question: _Question, vehicle: Vehicle) -> int:
    """Run every architecture and show the best, with what the others come to."""
    ranked: list[tuple[tuple[float, ...], BoxMatch]] = []
    compared: list[dict[str, Any]] = []
    for kind in AUTO:
        match = _box(options, question, vehicle, kind)
        if isinstance(match, Impossible):
            compared.append({"architecture": kind, "reason": match.reason})
            continue
        cost, worst = match.found.cost, match.found.worst_error_percent
        size = (cost.pairs, cost.gears, cost.teeth)
        key = (round(worst, 9), *size) if question.tolerance is None else (*size, worst)
        ranked.append((key, match))
        compared.append(
            {
                "architecture": kind,
                "worst_error_percent": worst,
                "pairs": cost.pairs,
                "gears_used": cost.gears,
            }
        )
    if not ranked:  # then gears alone miss, which is what summing differentials are for
        match = _box(options, question, vehicle, "slot-sum")
        if isinstance(match, Impossible):
            return _nothing(
                options, say("command-line.no-architecture-fits") + compared[0]["reason"]
            )
        ranked.append(((0.0,), match))
    _, best = min(ranked, key=lambda pair: pair[0])
    return _show(options, best.found, {**_box_data(best, question), "compared": compared})


def _box_data(match: BoxMatch, question: _Question) -> dict[str, Any]:
    """Say what a box has beyond its set."""
    data: dict[str, Any] = {"architecture": match.kind}
    if not match.proven:
        data["proven"] = False
    module = question.kit.module_mm
    more = match.match
    if isinstance(more, SharedCentreMatch):
        data["tooth_sum"] = more.tooth_sum
        data["centre_distance_mm"] = more.distance_mm
    elif isinstance(more, TwinMatch):
        data["tooth_sums"] = list(more.tooth_sums)
        data["output_pairs"] = [[p.driver, p.driven] for p in more.output_pairs]
    elif isinstance(more, RangeMatch):
        plain = sum(1 for pair in more.ranges if not pair.idlers)
        data["split"] = [len(more.splitter), plain]
        data["tooth_sums"] = list(more.tooth_sums)
        data["centre_distances_mm"] = [total * module / 2 for total in more.tooth_sums]
        tolerance = 0.03 if question.tolerance is None else float(question.tolerance)
        data["shift_order"] = [
            {
                "splitter": speed.splitter,
                "range": speed.range,
                "ratio": str(speed.ratio),
                "gear": speed.gear,
                "close_to_next": speed.near,
            }
            for speed in speeds_of(more, tolerance)
        ]
    seconds = {
        slot.gear: [[p.driver, p.driven] for p in slot.second]
        for slot in match.box.slots
        if isinstance(slot, Slot) and slot.second
    }
    if seconds:
        data["second_trains"] = seconds
    return data


def _pareto(options: argparse.Namespace, question: _Question) -> int:
    if options.architecture not in (None, "slot"):
        raise InputError(say("command-line.pareto-trade-offs-are-listed-for-free-pairs"))
    rules = _rules(options, question)
    if options.architecture == "slot" and not question.ranged:
        rules = replace(rules, last_driven=question.kit.dog_sizes)
    if is_deep(rules):
        raise InputError(say("command-line.pareto-with-so-many-sizes-use-at-most-2"))
    within = None
    if options.stock:
        slot = options.architecture == "slot"
        usage = used_by(free="driven" if slot else None, any_bore=not slot)
        within = Stock(stock_of(question.kit, any_bore=not slot), usage)
    cheapest = within is None and rules.any_meshes and len(rules.sizes) > 20
    pool = build_pool(rules, cheapest_only=cheapest)
    front = trade_offs(pool, question.goals, low=question.low, high=question.high, within=within)
    if not front:
        return _nothing(options, say("command-line.no-set-keeps-every-gear-within-25-allow-more"))
    loss = question.kit.mesh_loss
    if options.json:
        points = [
            {**_match_data(member, options.fit), "efficiency": _efficiency(member, loss)}
            for member in front
        ]
        show_json({"fit": options.fit, "pareto": points})
        return 0
    for member in front:
        print(
            f"{member.cost.gears:4d} gears, {member.cost.pairs:3d} pairs, worst "
            f"{member.worst_error_percent:7.3f} %, factor {member.factor:.4f}, "
            f"{100 * _efficiency(member, loss):.1f} % of the power, drag left out"
        )
    return 0


def _efficiency(matched: SetMatch, mesh_loss: float) -> float:
    """Give the share of the power that the trains pass, the mean over the gears."""
    return trains_alone([gear.train for gear in matched.gears], mesh_loss)


def _nothing(options: argparse.Namespace, reason: str) -> int:
    print(f"mild-badger: {plain(reason)}", file=sys.stderr)
    if options.json:
        show_json({"fit": options.fit, "gears": [], "reason": reason})
    return 1


def _show(options: argparse.Namespace, matched: SetMatch, extra: dict[str, Any]) -> int:
    if options.json:
        show_json({**_match_data(matched, options.fit), **extra})
        return 0
    print(
        say(
            "command-line.factor-worst-error",
            factor=matched.factor,
            worst_error_percent=matched.worst_error_percent,
        )
    )
    for gear in matched.gears:
        sign = "-" if gear.goal.parity == ODD else ""
        print(
            f"{gear.goal.name:>3}  {float(gear.goal.target):8.3f}  {sign + str(gear.ratio):>10}  "
            f"{gear.error_percent:+7.3f} %  {train_text(gear.train) or 'direct'}"
        )
    for name, value in extra.items():
        if name == "compared":
            for row in value:
                worst = row.get("worst_error_percent")
                sentence = row.get("reason") or say(
                    "command-line.worst-gears", worst=worst, row=row["gears_used"]
                )
                show(f"{searches()[row['architecture']].title}: {sentence}")
        elif name == "shift_order":
            order = "  ".join(
                f"{s['splitter']}/{s['range']} {s['ratio']}{'*' * s['close_to_next']}"
                for s in value
            )
            print(say("command-line.shift-order-splitter-range-close-to-the-next", order=order))
        else:
            print(f"{name.replace('_', ' ')} {value}")
    return 0


def _match_data(matched: SetMatch, fit: str) -> dict[str, Any]:
    return {
        "fit": fit,
        "factor": matched.factor,
        "worst_error_percent": matched.worst_error_percent,
        "pairs": matched.cost.pairs,
        "gears_used": matched.cost.gears,
        "gears": [
            {
                "name": gear.goal.name,
                "target": float(gear.goal.target),
                "ratio": str(-gear.ratio if gear.goal.parity == ODD else gear.ratio),
                "error_percent": gear.error_percent,
                "train": [[pair.driver, pair.driven] for pair in gear.train],
                "idlers": sum(len(pair.idlers) for pair in gear.train),
            }
            for gear in matched.gears
        ],
    }


def _numbers(text: str, option: str) -> list[Fraction]:
    return [_number(part, option) for part in text.split(",")]


def _length(text: str, option: str) -> Fraction:
    """Read a length in mm, or in the unit that is typed behind it."""
    value = parse_quantity(text, "length", what=option)
    if not 0 < value <= LONGEST_MM:
        raise InputError(
            say("command-line.must-be-greater-than-0-and-at-most-10-m", option=option, text=text)
        )
    return value


def _number(text: str, option: str, *, most: int = 1000) -> Fraction:
    value = parse_exact(text, what=option)
    if not 0 < value <= most:
        raise InputError(
            say(
                "command-line.must-be-greater-than-0-and-at-most",
                option=option,
                text=text,
                most=most,
            )
        )
    return value
