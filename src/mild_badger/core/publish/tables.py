"""The gears and the parts as CSV: commas, a header, points for decimals (RFC 4180)."""

from mild_badger.core.csv_text import column_in, csv_text
from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import UnitChoice, in_units
from mild_badger.core.publish.report import DIRECTION_WORDS, fraction_text
from mild_badger.core.ratios.train import train_text
from mild_badger.core.units import km_per_hour
from mild_badger.core.words import signed
from mild_badger.core.workshop.shopping import shopping
from mild_badger.core.workshop.states import progress_of

__all__ = ["gears_csv", "parts_csv"]


def gears_csv(evaluation: Evaluation) -> str:
    """Write one line a gear; ratios are turns in per turn out, speeds at the working speed.

    Speeds are in the vehicle's own units, which their columns name.
    """
    units = evaluation.vehicle.shown_in
    header = (
        "gear",
        "target",
        "ratio",
        "ratio_exact",
        "error_percent",
        "direction",
        "train",
        "second_train",
        "meshes",
        "gears",
        "motor_rpm",
        "wheel_rpm",
        column_in("model_speed", "m/s", units),
        column_in("scale_speed", "km/h", units),
    )
    rows = []
    for gear in evaluation.gears:
        rows.append(
            (
                gear.name,
                signed(gear.target, "g"),
                _number(None if gear.ratio is None else float(gear.ratio), 6),
                fraction_text(gear.ratio) or "",
                _number(gear.error_percent, 3),
                DIRECTION_WORDS[gear.direction],
                "direct" if gear.direct else train_text(gear.train),
                train_text(gear.second),
                gear.meshes,
                gear.gears,
                _number(gear.motor_rpm, 1),
                _number(gear.wheel_rpm, 2),
                _speed(gear.speed_mm_s and gear.speed_mm_s / 1000, "m/s", units, 4),
                _speed(gear.full_size_mm_s and km_per_hour(gear.full_size_mm_s), "km/h", units, 2),
            )
        )
    return csv_text(header, rows)


def parts_csv(evaluation: Evaluation) -> str:
    """Write one line a kind of part, group by group: needed against stock, and where it is from.

    ``letters`` are the shafts on which it sits, ``packs`` how many are to be bought; the last ones
    say how many are so far, and which version asks for those that are superseded.
    """
    rows = []
    for line in shopping(evaluation.vehicle):
        part = line.part
        done = progress_of(evaluation.vehicle, line.keys)
        rows.append(
            (
                line.group,
                part.name,
                part.needed,
                "made" if part.made else part.stock if part.there else "",
                part.short,
                _number(part.price, 2),
                _number(part.cost, 2),
                part.pack,
                part.packs,
                _number(part.to_buy, 2),
                line.source,
                " ".join(line.letters),
                "; ".join(part.used_by),
                done.drawn,
                done.made,
                done.fitted,
                done.remake,
                "; ".join(done.revisions),
            )
        )
    header = (
        "group",
        "part",
        "needed",
        "stock",
        "short",
        "price",
        "cost",
        "pack",
        "packs",
        "to_buy",
        "source",
        "letters",
        "used_by",
        "drawn",
        "made",
        "fitted",
        "superseded",
        "revision",
    )
    return csv_text(header, rows, evaluation.vehicle.shown_in)


def _speed(value: float | None, symbol: str, units: UnitChoice, decimals: int) -> str:
    return _number(None if value is None else in_units(value, symbol, units), decimals)


def _number(value: float | None, decimals: int) -> str:
    return "" if value is None else f"{value:.{decimals}f}"
