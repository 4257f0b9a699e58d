"""The chapter on the display engine."""

from mild_badger.core.figures import in_mm
from mild_badger.core.mechanisms.chapter import Chapter, Sentences, Table
from mild_badger.core.mechanisms.display.engine import top_deg
from mild_badger.core.mechanisms.display.result import display_result
from mild_badger.core.message import say
from mild_badger.core.ratios.train import train_text
from mild_badger.core.vehicle.model import Vehicle
from mild_badger.core.words import signed

__all__ = ["display_chapter"]


def display_chapter(vehicle: Vehicle, gear: str | None) -> Chapter | None:
    """Write the display engine's figures cylinder by cylinder; None where there is none."""
    result = display_result(vehicle, gear, vehicle.motor.working_rpm)
    if result is None:
        return None
    engine = result.engine
    rows = tuple(
        (
            str(n),
            f"{signed(throw, 'g')}°",
            f"{signed(engine.bank_of(n), '+g')}°",
            f"{signed(top_deg(engine, n), 'g')}°",
            f"{signed(at, '.4g')}°",
        )
        for n, throw in enumerate(engine.throws_deg, start=1)
        for at in (result.firing.angles_deg[result.firing.order.index(n)],)
    )
    columns = (
        ("cylinder", 0.0, "left"),
        ("throw", 46.0, "right"),
        (say("display.bank-angle"), 74.0, "right"),
        (say("display.top-dead-centre"), 106.0, "right"),
        (say("display.fires-at"), 130.0, "right"),
    )
    pairs = train_text(engine.pairs) or say("display.none-it-sits-on-the-shaft")
    sizes = say(
        "display.throw-rod-piston-pin-driven-from-the-gears",
        throw_mm=in_mm(engine.throw_mm),
        rod_mm=in_mm(engine.rod_mm),
        bore_mm=in_mm(engine.bore_mm),
        pin_mm=in_mm(engine.pin_mm),
        drive=engine.drive,
        pairs=pairs,
    )
    wrong = (Sentences(fault.words, wrong=True) for fault in result.wrong)
    return Chapter(
        say("display.display-engine"),
        (Sentences(result.summary), Table(columns, rows), Sentences(sizes), *wrong),
    )
