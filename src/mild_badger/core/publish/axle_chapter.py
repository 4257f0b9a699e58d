"""The chapter on axles and wheels."""

from mild_badger.core.axle.road_state import Turn
from mild_badger.core.evaluate import Evaluation, evaluate
from mild_badger.core.figures import M_S, NEWTON, bare, in_m_s, in_mm, in_n
from mild_badger.core.message import say
from mild_badger.core.performance.pull import pulls
from mild_badger.core.publish.mechanism_figures import axles_figure
from mild_badger.core.publish.page import LEFT, RIGHT
from mild_badger.core.publish.report import running_data
from mild_badger.core.publish.work import Work, describe_scale, draw_fitted
from mild_badger.core.ratios.train import train_text
from mild_badger.core.situation import Situation
from mild_badger.core.words import signed

__all__ = ["axle_chapter"]

DRAWING_MM = 96.0
LEAST_MM = 68.0
RUNNING: dict[str, str] = {
    "ground_clearance_mm": say("publish.axle-ground-clearance"),
    "limited_by": say("publish.lowest-part"),
    "approach_deg": say("publish.axle-approach-angle"),
    "departure_deg": say("publish.axle-departure-angle"),
    "breakover_deg": say("publish.axle-breakover-angle"),
    "lock_deg": say("publish.greatest-steering-angle"),
    "stopped_by": say("publish.steering-stopped-by"),
    "worst_error_deg": say("publish.greatest-steering-error"),
    "turning_radius_mm": say("publish.least-turning-radius"),
    "shaft_mm": say("publish.propeller-shaft-above-the-ground"),
    "floor_mm": say("publish.floor-above-the-ground"),
    "tunnel_mm": say("publish.tunnel-above-the-floor"),
}
"""What the figures of clearances, steering and shaft line are called."""


def axle_chapter(work: Work) -> None:
    """Write what each driven axle does, its parts and its pull."""
    book, vehicle = work.book, work.vehicle
    y = book.begin(say("publish.axle-sheet"), share=LEAST_MM + 12)
    figure = axles_figure(vehicle)
    high = min(book.left(y) - 10, DRAWING_MM)
    scale = draw_fitted(work, figure, y + 4, high, scaled=True)
    words = say("publish.figure-to-scale", said=figure.said, scale=describe_scale(scale))
    book.text(LEFT, y, words, 9, font="Figure")
    y += high + 10
    final, differential = vehicle.final_drive, vehicle.differential
    pairs = train_text(final.pairs)
    facts: list[tuple[str, str]] = [
        (say("publish.final-drive"), f"{signed(float(work.evaluation.final_ratio), '.4g')} : 1"),
        (say("publish.spur-pairs"), pairs or "none"),
        (
            say("publish.pinion-and-crown-wheel"),
            say(
                "publish.crown-on-the-of-the-pinion-seen-by-the",
                pinion=final.pinion,
                crown=final.crown,
                crown_side=final.crown_side,
            ),
        ),
        (
            say("publish.differential"),
            say(
                "publish.planets-sides-planets-teeth",
                kind=differential.kind,
                planets=differential.planets,
                side_teeth=differential.side_teeth,
                planet_teeth=differential.planet_teeth,
            )
            if differential.kind == "open"
            else differential.kind,
        ),
        (say("publish.wheels"), f"ø {in_mm(vehicle.wheels.diameter_mm)}"),
        (
            say("publish.track-and-wheelbase"),
            say(
                "publish.and",
                track_mm=bare(in_mm(vehicle.axle.track_mm)),
                wheelbase_mm=in_mm(vehicle.axle.wheelbase_mm),
            ),
        ),
    ]
    facts += [
        (
            say("publish.axle", name=axle.name),
            say(
                "publish.ahead-crown-on-the-pinion-from-the",
                ahead_mm=in_mm(axle.ahead_mm, sign=True),
                pinion=axle.pinion,
                crown=axle.crown,
                crown_side=axle.crown_side,
                pinion_from=axle.pinion_from,
            ),
        )
        for axle in vehicle.additional_axles
    ]
    facts += _running_facts(work.evaluation)
    columns = ((say("publish.what"), LEFT, "left"), ("", 70, "left"))
    y = book.table(y, columns, facts) + 4
    y = book.room(y, 40)
    radius = max(3 * vehicle.axle.wheelbase_mm, 300.0)
    book.text(
        LEFT,
        y,
        say("publish.in-a-turn-of-r-to-the-left-gear-engaged-as", radius=in_mm(radius, 0)),
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
                "–" if v is None else signed(v, ".1f")
                for v in (row.housing_rpm, row.left_rpm, row.right_rpm, row.planet_rpm)
            ),
        )
        for row in turning.axle.rows
    ]
    y = book.table(
        y + 6,
        (
            ("axle", LEFT, "left"),
            (say("publish.housing-rpm"), 90, "right"),
            (say("publish.left-rpm"), 118, "right"),
            (say("publish.right-rpm"), 146, "right"),
            (say("publish.planet-rpm"), 176, "right"),
        ),
        rows,
    )
    y = book.paragraph(LEFT, y + 2, turning.axle.torque, 8, width=RIGHT - LEFT) + 4
    y = book.room(y, 40)
    book.text(LEFT, y, say("publish.what-every-gear-pulls-estimated-efficiency"), 10, font="Figure")
    table = [
        (
            vehicle.gear_name(pull.gear),
            signed(pull.overall, ".4g"),
            f"{signed(100 * pull.efficiency, '.0f')} %",
            bare(in_m_s(pull.road_m_s, 2)),
            bare(in_n(pull.usable.force_n, 1)),
            f"{signed(pull.hill_percent, '.0f')} %",
            pull.limit,
        )
        for pull in pulls(vehicle, work.evaluation.gears)
    ]
    if table:
        book.table(
            y + 6,
            (
                (say("publish.gear-2"), LEFT, "left"),
                (say("publish.motor-per-wheel"), 52, "right"),
                (say("publish.power-arrives"), 80, "right"),
                (say("publish.on-the-level", m_s=M_S), 108, "right"),
                (say("publish.pull", newton=NEWTON), 126, "right"),
                (say("publish.steepest-hill"), 150, "right"),
                (say("publish.what-limits-it"), 156, "left"),
            ),
            table,
        )


def _running_facts(evaluation: Evaluation) -> list[tuple[str, str]]:
    """Say what is known of clearances, steering and shaft line, where they are planned."""
    data = running_data(evaluation)
    if data is None:
        return []
    facts: list[tuple[str, str]] = []
    for key, title in RUNNING.items():
        value = data[key]
        if isinstance(value, str):
            facts.append((title, value))
        elif value is not None:
            written = in_mm(value, 1) if key.endswith("_mm") else f"{signed(value, '.1f')}°"
            facts.append((title, written))
    return facts
