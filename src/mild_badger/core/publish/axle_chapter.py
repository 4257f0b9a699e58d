"""The chapter on axles and wheels."""

from mild_badger.core.axle.road_state import Turn
from mild_badger.core.evaluate import evaluate
from mild_badger.core.figures import M_S, NEWTON, bare, in_m_s, in_mm, in_n
from mild_badger.core.performance.pull import pulls
from mild_badger.core.publish.page import LEFT, RIGHT
from mild_badger.core.publish.report import running_data
from mild_badger.core.publish.work import Work
from mild_badger.core.ratios.train import train_text
from mild_badger.core.situation import Situation

__all__ = ["axle_chapter"]


def axle_chapter(work: Work) -> None:
    """Write what each driven axle does, its parts and its pull."""
    book, vehicle = work.book, work.vehicle
    y = book.begin("Axle sheet")
    final, differential = vehicle.final_drive, vehicle.differential
    pairs = train_text(final.pairs)
    facts = [
        ("Final drive", f"{float(work.evaluation.final_ratio):.4g} : 1"),
        ("Spur pairs", pairs or "none"),
        (
            "Pinion and crown wheel",
            f"{final.pinion} : {final.crown}, crown on the "
            f"{final.crown_side} of the pinion, seen by the driver",
        ),
        (
            "Differential",
            f"{differential.kind}, {differential.planets} planets, sides "
            f"{differential.side_teeth}, planets {differential.planet_teeth} teeth"
            if differential.kind == "open"
            else differential.kind,
        ),
        ("Wheels", f"ø {in_mm(vehicle.wheels.diameter_mm)}"),
        (
            "Track and wheelbase",
            f"{bare(in_mm(vehicle.axle.track_mm))} and {in_mm(vehicle.axle.wheelbase_mm)}",
        ),
    ]
    facts += [
        (
            f"Axle {axle.name}",
            f"{in_mm(axle.ahead_mm, sign=True)} ahead, {axle.pinion} : {axle.crown}, "
            f"crown on the {axle.crown_side}, pinion from the {axle.pinion_from}",
        )
        for axle in vehicle.additional_axles
    ]
    data = running_data(work.evaluation)
    for key, value in (data or {}).items():
        if value is not None:
            words = f"{value:.4g}" if isinstance(value, float | int) else str(value)
            facts.append((key.replace("_", " ").capitalize(), words))
    columns = (("what", LEFT, "left"), ("", 70, "left"))
    y = book.table(y, columns, facts) + 4
    y = book.room(y, 40)
    radius = max(3 * vehicle.axle.wheelbase_mm, 300.0)
    book.text(
        LEFT,
        y,
        f"In a turn of R {in_mm(radius, 0)} to the left, gear engaged as on the cover",
        10,
        font="Figure",
    )
    turning = evaluate(
        vehicle, Situation(gear=work.evaluation.situation.gear, road=Turn(radius, "left"))
    )
    rows = [
        (
            row.name,
            *(
                "–" if v is None else f"{v:.1f}"
                for v in (row.housing_rpm, row.left_rpm, row.right_rpm, row.planet_rpm)
            ),
        )
        for row in turning.axle.rows
    ]
    y = book.table(
        y + 6,
        (
            ("axle", LEFT, "left"),
            ("housing rpm", 90, "right"),
            ("left rpm", 118, "right"),
            ("right rpm", 146, "right"),
            ("planet rpm", 176, "right"),
        ),
        rows,
    )
    y = book.paragraph(LEFT, y + 2, turning.axle.torque, 8, width=RIGHT - LEFT) + 4
    y = book.room(y, 40)
    book.text(
        LEFT, y, "What every gear pulls, estimated; efficiency without drag", 10, font="Figure"
    )
    table = [
        (
            vehicle.gear_name(pull.gear),
            f"{pull.overall:.4g}",
            f"{100 * pull.efficiency:.0f} %",
            bare(in_m_s(pull.road_m_s, 2)),
            bare(in_n(pull.force_n, 1)),
            f"{pull.hill_percent:.0f} %",
            pull.limit,
        )
        for pull in pulls(vehicle, work.evaluation.gears)
    ]
    if table:
        book.table(
            y + 6,
            (
                ("gear", LEFT, "left"),
                ("motor per wheel", 52, "right"),
                ("power arrives", 80, "right"),
                (f"{M_S} on the level", 108, "right"),
                (f"pull {NEWTON}", 126, "right"),
                ("steepest hill", 150, "right"),
                ("what limits it", 156, "left"),
            ),
            table,
        )
