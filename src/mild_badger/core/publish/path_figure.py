"""The engaged path unrolled: every gear from the input to the wheel, to true relative size."""

from mild_badger.core.evaluate import Evaluation
from mild_badger.core.message import say
from mild_badger.core.results import GearResult
from mild_badger.core.words import signed
from mild_badger.core.workshop.figure import Figure, Role

__all__ = ["path_figure"]

GAP_MM = 10.0


def path_figure(evaluation: Evaluation, gear: GearResult) -> Figure:
    """Draw a gear's train from left to right, then pinion, crown wheel and wheel.

    Gears in mesh touch; two on one shaft lie over one another. Under each stands its tooth count,
    over it its turns for one of the motor, with their sign.
    """
    vehicle = evaluation.vehicle
    module = vehicle.kit.module_mm
    figure = Figure(say("publish.the-way-of-the-power-in-gear-2", name=gear.name))
    role: Role = "back" if gear.reverse else "run"
    x = 0.0
    before: float | None
    turns = iter(gear.turns)
    start = -gear.links[0].pair.driver * module / 2 - 12.0 if gear.links else -14.0
    figure.line("ink", (start, 0.0), (0.0, 0.0), heavy=True)
    figure.text((start, 3.0), "motor", role="soft", size=7)
    last = 0.0
    standing: dict[float, list[tuple[int, float]]] = {}
    for link in gear.links:
        before = None
        for place, teeth in enumerate((link.pair.driver, *link.pair.idlers, link.pair.driven)):
            radius = teeth * module / 2
            if place and before is not None:
                x += before + radius
            standing.setdefault(x, []).append((teeth, radius))
            speed = next(turns, None)
            if speed is not None and (place or link is gear.links[0]):
                sign = "+" if speed > 0 else "−"
                figure.text(
                    (x, radius + 2.5),
                    f"{sign}{signed(abs(float(speed)), '.3g')}",
                    role="soft",
                    align="centre",
                    size=6,
                )
            before, last = radius, max(radius, last if not place else 0.0)
    for at, gears in standing.items():
        words = ", ".join(str(teeth) for teeth, _ in gears)
        largest = max(radius for _, radius in gears)
        for _, radius in gears:
            _gear(figure, (at, 0.0), radius, role)
        figure.text((at, -largest - 5), words, align="centre", size=6)
    final = vehicle.final_drive
    x += last + GAP_MM
    figure.line("ink", (x - last - GAP_MM, 0.0), (x, 0.0), heavy=True)
    for pair in final.pairs:
        before = None
        for teeth in (pair.driver, *pair.idlers, pair.driven):
            radius = teeth * module / 2
            x += before + radius if before is not None else radius
            _gear(figure, (x, 0.0), radius, role)
            figure.text((x, -radius - 5), str(teeth), align="centre", size=6)
            before = radius
        x += (before or 0.0) + GAP_MM / 2
    pinion, crown = final.pinion * module / 2, final.crown * module / 2
    x += 2
    figure.polygon(
        "there", (x, pinion), (x + 6, pinion * 0.7), (x + 6, -pinion * 0.7), (x, -pinion)
    )
    figure.text((x + 3, -pinion - 5), str(final.pinion), align="centre", size=6)
    figure.polygon(
        "there", (x + 8, crown), (x + 14, crown * 0.86), (x + 14, -crown * 0.86), (x + 8, -crown)
    )
    figure.text((x + 11, -crown - 5), str(final.crown), align="centre", size=6)
    wheel = vehicle.wheels.diameter_mm / 2
    figure.line("ink", (x + 14, 0.0), (x + 20 + wheel, 0.0), heavy=True)
    figure.circle("ink", (x + 20 + wheel, 0.0), wheel, heavy=True)
    figure.circle("hair", (x + 20 + wheel, 0.0), wheel * 0.6)
    if gear.wheel_rpm is not None:
        way = say("publish.forwards") if gear.wheel_rpm > 0 else say("publish.backwards")
        figure.text(
            (x + 20 + wheel, -wheel - 5),
            say("publish.rpm", wheel_rpm=abs(gear.wheel_rpm), way=way),
            align="centre",
            size=7,
        )
    return figure


def _gear(figure: Figure, at: tuple[float, float], radius: float, role: Role) -> None:
    figure.circle(role, at, radius, heavy=True)
    figure.circle("ink", at, 1.2)
