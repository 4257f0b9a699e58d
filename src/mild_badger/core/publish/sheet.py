"""The one-page sheet: targets against got, slots, end views to scale, parts, cautions.

A4 upright; lengths on the page in millimetres from the top left corner.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from mild_badger.core.evaluate import Evaluation
from mild_badger.core.figures import KM_H, M_S, bare, in_km_h, in_m_s, in_mm
from mild_badger.core.findings.finding import Severity
from mild_badger.core.kit.cautions import cautions_for
from mild_badger.core.message import say, say_count
from mild_badger.core.publish.page import (
    BACK,
    HAIR,
    INK,
    LEFT,
    RIGHT,
    RUN,
    SOFT,
    Page,
)
from mild_badger.core.ratios.train import train_text
from mild_badger.core.results import GearResult
from mild_badger.core.shift.slots import SlotView
from mild_badger.core.targets.schools import RatioConvention, format_ratio
from mild_badger.core.units import km_per_hour
from mild_badger.core.vehicle.box import LeverPlace, Slot
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.version import __version__

__all__ = ["gear_table", "sheet_pdf"]


def sheet_pdf(
    evaluation: Evaluation,
    *,
    school: RatioConvention = RatioConvention.TURNS_IN,
    day: date | None = None,
) -> bytes:
    """Draw the one-page sheet and return the PDF's bytes."""
    vehicle = evaluation.vehicle
    page = Page(vehicle.name, vehicle.shown_in)
    page.text(LEFT, 20, vehicle.name, 20, font="Figure", width=RIGHT - LEFT)
    fit = (
        say("publish.absolute-fit")
        if vehicle.search.fit == "absolute"
        else say("publish.spacing-fit")
    )
    facts = say(
        "publish.1-k-ratios-as-scale-speed-motor-at-rpm",
        denominator=vehicle.scale.denominator,
        name=vehicle.kit.name,
        fit=fit,
        factor=evaluation.factor,
        value=school.value,
        speed_school=vehicle.scale.speed_school,
        motor_rpm=evaluation.gears[0].motor_rpm,
    )
    page.text(LEFT, 26, facts, 8, color=SOFT, width=RIGHT - LEFT)
    y = gear_table(page, evaluation, school, 35)
    y = _slots(page, evaluation, y + 9)
    y = _end_views(page, evaluation, y + 9)
    _parts(page, evaluation, y + 9)
    _foot(page, evaluation, day or date.today())
    return page.finish()


def gear_table(page: Page, evaluation: Evaluation, school: RatioConvention, y: float) -> float:
    """Write targets against what was got, and the final drive; give where it ends."""
    columns = (
        (say("publish.gear-2"), LEFT, "left"),
        ("wanted", 46, "right"),
        ("got", 62, "right"),
        ("error %", 78, "right"),
        (say("publish.train-driver-first"), 83, "left"),
        (M_S, 152, "right"),
        (say("publish.scale", km_h=KM_H), 172, "right"),
        (say("publish.real", km_h=KM_H), RIGHT, "right"),
    )
    for title, x, align in columns:
        page.text(x, y, title, 7, color=SOFT, align=align)
    step = min(5.4, 72 / max(len(evaluation.gears), 1))
    for gear in evaluation.gears:
        page.line(LEFT, y + 1.4, RIGHT, y + 1.4, width=0.1)
        y += step
        cells = _gear_cells(gear, school)
        for (_, x, align), cell in zip(columns, cells, strict=True):
            color = BACK if gear.reverse and align == "left" and x == LEFT else INK
            wide = {LEFT: 20.0, 83: 58.0}.get(x)
            page.text(x, y, cell, 8.5 if step > 4 else 6.5, color=color, align=align, width=wide)
    page.line(LEFT, y + 1.4, RIGHT, y + 1.4, width=0.1)
    final = evaluation.vehicle.final_drive
    pairs = train_text(final.pairs)
    page.text(
        LEFT,
        y + 6,
        say(
            "publish.final-drive-1-bevel-crown-on-the-wanted",
            final_ratio=float(evaluation.final_ratio),
            pairs=pairs + " · " if pairs else "",
            pinion=final.pinion,
            crown=final.crown,
            crown_side=final.crown_side,
            final_wanted=evaluation.final_wanted,
            kind=evaluation.vehicle.differential.kind,
            diameter_mm=in_mm(evaluation.vehicle.wheels.diameter_mm),
        ),
        8,
        width=RIGHT - LEFT,
    )
    return y + 6


def _gear_cells(gear: GearResult, school: RatioConvention) -> tuple[str, ...]:
    def number(value: float | None, pattern: str) -> str:
        return "–" if value is None else format(value, pattern).replace("-", "−")

    error = gear.error_percent
    return (
        gear.name,
        format_ratio(gear.wanted, school),
        "–" if gear.ratio is None else format_ratio(gear.ratio, school),
        number(None if error is None else school.error_percent(error), "+.1f"),
        _describe_train(gear),
        "–" if gear.speed_mm_s is None else bare(in_m_s(gear.speed_mm_s / 1000, 2)),
        "–" if gear.full_size_mm_s is None else bare(in_km_h(km_per_hour(gear.full_size_mm_s), 0)),
        bare(in_km_h(km_per_hour(gear.real_limit_mm_s), 0)),
    )


def _describe_train(gear: GearResult) -> str:
    if gear.direct:
        return "direct"
    words = train_text(gear.train) or say("publish.no-train-yet")
    return f"{words}  +  {train_text(gear.second)}" if gear.second else words


def _slots(page: Page, evaluation: Evaluation, y: float) -> float:
    if not evaluation.columns:
        return _places(page, evaluation, y)
    page.text(LEFT, y, "Slots", 11, font="Figure")
    wide = min(30.0, (RIGHT - LEFT) / len(evaluation.columns))
    for number, column in enumerate(evaluation.columns):
        x = LEFT + number * wide
        for view, top, face in ((column.front, y + 2.5, "front"), (column.back, y + 12.5, "back")):
            _slot(
                (page, evaluation.vehicle),
                view,
                (x, top),
                wide - 2,
                say("publish.column", number=column.number, face=face),
            )
    return y + 22


def _places(page: Page, evaluation: Evaluation, y: float) -> float:
    """List what stands where in a box that has no slots: shared pairs, then each gear's place."""
    box = evaluation.vehicle.box
    page.text(LEFT, y, box.title.capitalize(), 11, font="Figure")
    rows = [
        (shared.key, train_text(shared.train) or say("publish.none-yet"), "")
        for shared in box.shared()
    ]
    for gear in evaluation.gears:
        slot = box.slot(gear.id)
        where = ""
        if isinstance(slot, Slot):
            where = say("publish.column-2", column=slot.column, face=slot.face)
        elif isinstance(slot, LeverPlace):
            where = say("publish.fulcrum", fulcrum_mm=in_mm(slot.fulcrum_mm))
        elif slot is not None:
            where = say("publish.splitter-range", splitter=slot.splitter, range=slot.range)
        own = "direct" if gear.direct else train_text(gear.own)
        rows.append((say("publish.gear", name=gear.name), own, where))
    across = 3
    wide = (RIGHT - LEFT) / across
    step = min(4.4, 20 / -(-len(rows) // across))
    for number, (name, train, where) in enumerate(rows):
        x, line = LEFT + (number % across) * wide, y + 5 + (number // across) * step
        page.text(x, line, name, 6.5, color=SOFT, width=18)
        page.text(x + 19, line, train, 7, width=20)
        page.text(x + 40, line, where, 6.5, color=SOFT, width=wide - 41)
    return y + 22


def _slot(
    work: tuple[Page, Vehicle],
    view: SlotView | None,
    at: tuple[float, float],
    wide: float,
    place: str,
) -> None:
    page, vehicle = work
    x, y = at
    color = HAIR if view is None else BACK if view.reverse else INK
    page.box(x, y, wide, 9, color)
    page.text(x + 1, y + 2.6, place, 5, color=SOFT, width=wide - 2)
    if view is not None:
        sign = {1: "+", -1: "−", 0: "?"}[view.direction]
        page.text(
            x + 1,
            y + 7,
            vehicle.gear_name(view.slot.gear),
            10,
            font="Figure",
            color=color,
            width=wide / 2,
        )
        page.text(
            x + wide - 1,
            y + 7,
            say("publish.meshes", meshes=view.meshes, sign=sign),
            6,
            align="right",
            width=wide - 6,
        )


def _end_views(page: Page, evaluation: Evaluation, y: float) -> float:
    page.text(LEFT, y, say("publish.trains-seen-from-the-input"), 11, font="Figure")
    placed = [gear for gear in evaluation.gears if gear.placement.shafts_u]
    if not placed:
        page.text(LEFT, y + 6, say("publish.no-train-has-been-placed-yet"), 8, color=SOFT)
        return y + 6
    across = 4 if len(placed) <= 8 else 6 if len(placed) <= 12 else 8
    rows = -(-len(placed) // across)
    cell = (RIGHT - LEFT) / across
    tall = min(36.0, 84 / rows)
    kit = evaluation.vehicle.kit
    views = [_circles(gear, kit.module_mm, kit.grid_unit_mm) for gear in placed]
    scale = min(
        min((cell - 3) / (view.wide or 1), (tall - 7) / (view.high or 1), 0.5) for view in views
    )
    page.text(
        RIGHT, y, say("publish.all-at-of-true-size", scale=scale), 7, color=SOFT, align="right"
    )
    for number, (gear, view) in enumerate(zip(placed, views, strict=True)):
        at = (LEFT + (number % across) * cell, y + 3 + (number // across) * tall)
        _end_view(page, gear, view, at, scale)
    return y + 3 + rows * tall


@dataclass(frozen=True)
class _View:
    """Pitch circles of a placed train: teeth, radius, and the centre from the top left, in mm."""

    circles: tuple[tuple[int, float, float, float], ...]
    wide: float
    high: float


def _circles(gear: GearResult, module: float, unit: float) -> _View:
    circles = []
    for placed in gear.placement.gears:
        x, y = gear.placement.shafts_u[placed.shaft]
        circles.append((placed.teeth, placed.teeth * module / 2, x * unit, y * unit))
    left = min(x - r for _, r, x, _ in circles)
    top = max(y + r for _, r, _, y in circles)
    return _View(
        tuple((z, r, x - left, top - y) for z, r, x, y in circles),
        max(x + r for _, r, x, _ in circles) - left,
        top - min(y - r for _, r, _, y in circles),
    )


def _end_view(
    page: Page, gear: GearResult, view: _View, at: tuple[float, float], scale: float
) -> None:
    color = BACK if gear.reverse else RUN
    page.text(at[0], at[1] + 3, gear.name, 9, font="Figure", color=color, width=20)
    for teeth, radius, x, y in view.circles:
        px, py = at[0] + x * scale, at[1] + 5 + y * scale
        page.circle(px, py, radius * scale, color, 0.25)
        page.circle(px, py, 0.3, INK, 0.15)
        page.text(px, py + radius * scale - 0.5, str(teeth), 4.5, align="centre")


def _parts(page: Page, evaluation: Evaluation, y: float) -> None:
    page.text(LEFT, y, say("publish.parts"), 11, font="Figure")
    half = -(-len(evaluation.parts) // 2)
    for number, part in enumerate(evaluation.parts):
        x = LEFT + (number // half) * (RIGHT - LEFT + 6) / 2
        row = y + 5 + (number % half) * 3.9
        stock = say("publish.made-as-needed") if part.made else say("publish.of", stock=part.stock)
        if not part.there:
            stock = say("publish.not-in-the-kit")
        note = say("publish.short-2", short=part.short) if part.short else stock
        page.text(x, row, f"{part.needed} ×", 7.5, width=9)
        page.text(x + 9, row, part.name, 7.5, width=54)
        page.text(x + 84, row, note, 7.5, align="right", color=RUN if part.short else SOFT)


def _foot(page: Page, evaluation: Evaluation, day: date) -> None:
    levels = Counter(finding.severity for finding in evaluation.findings)
    counts: Sequence[str] = [
        say_count("count.error", levels[Severity.ERROR]),
        say_count("count.warning", levels[Severity.WARNING]),
        say_count("count.note", levels[Severity.NOTE]),
    ]
    shown = cautions_for(evaluation.vehicle.kit)
    y = page.high - 10.4 - 3.2 * len(shown)
    page.line(LEFT, y - 4, RIGHT, y - 4)
    for caution in shown:
        page.text(LEFT, y, caution, 6.5, color=SOFT, width=RIGHT - LEFT)
        y += 3.2
    page.text(
        LEFT,
        page.high - 8,
        say(
            "publish.mild-badger-2",
            version=__version__,
            isoformat=day.isoformat(),
            listed=", ".join(counts),
        ),
        6.5,
        color=SOFT,
    )
